package firth.server.database;

import firth.core.cover.Lineages;
import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Finding;
import firth.core.findings.HeldComponents;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Note;
import firth.core.model.PolicyVersion;
import firth.core.restore.Footing;
import firth.core.restore.Planning;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.StoredBackups;
import firth.server.watch.WatchRows;
import firth.store.Snapshot;
import firth.wording.EvidenceWords;
import firth.wording.explain.Reasons;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/** Turns one evaluation into what the database's page and list show. */
final class DatabaseViews {

    private static final int SLICES = 240;

    private final FleetNow fleet;
    private final Lookout.View view;

    DatabaseViews(FleetNow fleet, Lookout.View view) {
        this.fleet = fleet;
        this.view = view;
    }

    /** @param findings what is wrong with it, in order */
    DatabaseView view(
            Evaluations.Fleetwide one, Evaluation e, List<Finding> findings, List<Note> notes, Snapshot snapshot) {
        OptionalDouble size = e.database().sizeBytes();
        return new DatabaseView(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                new CoverRows(fleet, view).row(e),
                size.isPresent() ? size.getAsDouble() : null,
                Arrays.stream(Hazard.values()).map(h -> channel(h, e.under(h))).toList(),
                AgeSlices.of(e.mishap(), SLICES),
                e.gaps().stream().map(g -> CoverRows.gap(e, g)).toList(),
                data(e),
                tallies(e),
                slots(e),
                cadence(e),
                e.database().streams(),
                lineages(e),
                new Shelves(fleet, e).all(),
                wayBack(e, one.facts(e)).orElse(null),
                components(e, snapshot),
                DatabaseRooms.of(fleet, e, view),
                notes.stream()
                        .map(n -> new DatabaseView.NoteView(n.id(), n.text(), n.by(), n.at()))
                        .toList(),
                new Holds(one, e).views(),
                findings.stream().map(f -> WatchRows.finding(fleet, f)).toList());
    }

    private List<DatabaseView.ComponentView> components(Evaluation e, Snapshot snapshot) {
        StoredBackups told = new StoredBackups(snapshot, List.of());
        History h = e.history();
        return HeldComponents.of(e, told::told).stream()
                .map(held -> {
                    Optional<String> newest = held.backups().stream().findFirst();
                    OptionalDouble bytes = held.component().bytes();
                    return new DatabaseView.ComponentView(
                            held.component().name(),
                            held.component().kind().orElse(null),
                            bytes.isPresent() ? bytes.getAsDouble() : null,
                            held.backups().size(),
                            newest.orElse(null),
                            newest.map(id -> h.row(id).getAsInt())
                                    .map(i -> Instant.ofEpochMilli(h.consistentAtMs(i)))
                                    .orElse(null));
                })
                .toList();
    }

    private Optional<DatabaseView.WayBack> wayBack(Evaluation e, DatabaseFacts facts) {
        Optional<Duration> promised = e.version()
                .filter(PolicyVersion::enabled)
                .flatMap(v -> v.objective().restoreTime());
        Planning planning = new Planning(facts, fleet.fleet(), e.asOf(), Hazard.MISHAP, Losses.NONE);
        return planning.newestWay()
                .flatMap(way -> e.mishap().recoveryPoint().map(to -> {
                    Footing footing = Footing.of(way, facts.history());
                    String cover =
                            planning.footing().map(EvidenceWords::ofCover).orElse("");
                    return wayBack(to, way, footing.weakest(), EvidenceWords.of(footing) + " " + cover, promised);
                }));
    }

    private DatabaseView.WayBack wayBack(
            Instant to, Way way, Evidence weakest, String known, Optional<Duration> promised) {
        List<Step> logs = way.logs();
        return new DatabaseView.WayBack(
                to,
                way.chain().stream()
                        .map(s ->
                                new DatabaseView.ChainLink(s.backup(), s.kind().word(), fleet.storeName(s.store())))
                        .toList(),
                way.logCount(),
                logs.stream().mapToDouble(s -> s.bytes().orElse(0)).sum(),
                CoverRows.seconds(way.time()),
                way.timeKnown(),
                promised.map(CoverRows::seconds).orElse(null),
                weakest.word(),
                known);
    }

    private static List<DatabaseView.LineageView> lineages(Evaluation e) {
        Lineages lineages = new Lineages(e.database(), e.asOf().toEpochMilli());
        return IntStream.range(0, lineages.count())
                .filter(lineages::isKnown)
                .mapToObj(l -> new DatabaseView.LineageView(
                        lineages.id(l),
                        lineages.isChild(l) ? lineages.id(lineages.parent(l)) : null,
                        Instant.ofEpochMilli(lineages.openedAtMs(l)),
                        lineages.untilMs(l) == Long.MAX_VALUE ? null : Instant.ofEpochMilli(lineages.untilMs(l)),
                        IntStream.range(0, e.database().streams().size())
                                .filter(s -> lineages.isChild(l) && lineages.fork(l, s) >= 0)
                                .mapToObj(s -> new DatabaseView.Fork(
                                        e.database().streams().get(s), lineages.fork(l, s)))
                                .toList()))
                .toList();
    }

    private static List<DatabaseView.SlotView> slots(Evaluation e) {
        return e.slots().stream()
                .map(s -> new DatabaseView.SlotView(
                        s.schedule(),
                        s.kind().word(),
                        s.open(),
                        s.close(),
                        s.verdict().word(),
                        CoverRows.seconds(s.spill()),
                        s.runs().stream()
                                .map(r -> new DatabaseView.RunView(
                                        r.id(),
                                        r.started(),
                                        r.ended().orElse(null),
                                        r.state().name().toLowerCase(java.util.Locale.ROOT)))
                                .toList()))
                .toList();
    }

    private static List<DatabaseView.CadenceView> cadence(Evaluation e) {
        return e.cadence().stream()
                .map(c -> new DatabaseView.CadenceView(
                        c.schedule(), c.stream(), c.from(), c.to().orElse(null), c.missed()))
                .toList();
    }

    private DatabaseView.Channel channel(Hazard hazard, HazardEvaluation h) {
        return new DatabaseView.Channel(
                hazard.field(),
                h.restorable().stream()
                        .filter(p -> !p.to().isBefore(view.period().from())
                                && !p.from().isAfter(view.period().to()))
                        .map(p -> new DatabaseView.Stretch(p.from(), p.to()))
                        .toList(),
                h.breaches().stream()
                        .map(b -> new DatabaseView.BreachView(b.from(), b.to(), b.worstMs() / 1000.0))
                        .toList(),
                h.achieved().max() / 1000,
                h.achieved().mean() / 1000,
                h.achieved().p50() / 1000,
                h.achieved().p95() / 1000,
                h.achieved().p99() / 1000,
                h.achieved().attainment().orElse(null));
    }

    private List<DatabaseView.DataBackup> data(Evaluation e) {
        History h = e.history();
        Retention retention = e.retention();
        Map<Integer, Verdict> best = new HashMap<>();
        Set<Integer> locked = new HashSet<>();
        Map<Integer, String> notes = new HashMap<>();
        for (int r = 0; r < retention.size(); r++) {
            int i = retention.backup(r);
            if (h.kind(i).isData()) {
                best.merge(i, retention.verdict(r), (a, b) -> a.compareTo(b) <= 0 ? a : b);
                List<String> reasons = retention.reasons(r);
                if (reasons.contains("locked")) {
                    locked.add(i);
                }
                String note = note(reasons);
                notes.merge(i, note, (a, b) -> a.isEmpty() ? b : a);
            }
        }
        return best.entrySet().stream()
                .sorted(Comparator.comparingLong(b -> h.consistentAtMs(b.getKey())))
                .map(b -> {
                    int i = b.getKey();
                    return new DatabaseView.DataBackup(
                            h.id(i),
                            h.kind(i).word(),
                            Instant.ofEpochMilli(h.consistentAtMs(i)),
                            h.parentId(i).orElse(null),
                            b.getValue().word(),
                            locked.contains(i),
                            notes.getOrDefault(i, ""));
                })
                .toList();
    }

    private static String note(List<String> reasons) {
        for (String telling : List.of("floor", "reach-anchor")) {
            if (reasons.contains(telling)) {
                return Reasons.label(telling);
            }
        }
        return "";
    }

    private static List<DatabaseView.Tally> tallies(Evaluation e) {
        Map<String, Integer> copies = new TreeMap<>();
        Map<String, Double> bytes = new HashMap<>();
        for (int r = 0; r < e.retention().size(); r++) {
            String key = e.history().kind(e.retention().backup(r)).word() + " "
                    + e.retention().verdict(r).word();
            copies.merge(key, 1, Integer::sum);
            double own = e.retention().bytes(r);
            bytes.merge(key, Double.isNaN(own) ? 0 : own, Double::sum);
        }
        return copies.entrySet().stream()
                .map(c -> new DatabaseView.Tally(
                        c.getKey().substring(0, c.getKey().indexOf(' ')),
                        c.getKey().substring(c.getKey().indexOf(' ') + 1),
                        c.getValue(),
                        bytes.getOrDefault(c.getKey(), 0.0)))
                .toList();
    }

    BackupPage page(Evaluation e, IntPredicate chosen, int offset, int limit) {
        History h = e.history();
        Retention retention = e.retention();
        List<Integer> order = IntStream.range(0, retention.size())
                .filter(chosen)
                .boxed()
                .sorted(Comparator.<Integer>comparingLong(r -> -h.endedMs(retention.backup(r)))
                        .thenComparing(r -> h.id(retention.backup(r)))
                        .thenComparing(retention::store))
                .toList();
        return new BackupPage(
                order.size(),
                order.stream().skip(offset).limit(limit).map(r -> item(e, r)).toList());
    }

    private BackupPage.Item item(Evaluation e, int r) {
        History h = e.history();
        int i = e.retention().backup(r);
        boolean log = h.kind(i) == Kind.LOG;
        double bytes = e.retention().bytes(r);
        String store = e.retention().store(r);
        return new BackupPage.Item(
                h.id(i),
                h.kind(i).word(),
                Instant.ofEpochMilli(log ? h.fromTimeMs(i) : h.startedMs(i)),
                Instant.ofEpochMilli(log ? h.toTimeMs(i) : h.endedMs(i)),
                Double.isNaN(bytes) ? null : bytes,
                store,
                fleet.storeName(store),
                fleet.fleet()
                        .store(store)
                        .flatMap(s -> s.role())
                        .map(x -> x.word())
                        .orElse(""),
                e.retention().verdict(r).word(),
                e.retention().reasons(r).stream()
                        .map(word -> new BackupPage.Label(word, Reasons.named(word)))
                        .toList());
    }
}
