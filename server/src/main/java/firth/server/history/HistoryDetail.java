package firth.server.history;

import firth.core.adherence.Attempt;
import firth.core.adherence.Slot;
import firth.core.evaluation.Evaluation;
import firth.core.forecast.Course;
import firth.core.forecast.Trend;
import firth.core.history.History;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Kind;
import firth.core.model.Order;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import firth.core.model.Traits;
import firth.core.model.Trigger;
import firth.core.retention.Retention;
import firth.exchange.FleetFileReader;
import firth.exchange.Told;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.store.Entry;
import firth.store.EntryFilter;
import firth.store.Snapshot;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

/** One line of history with everything that belongs to it. */
final class HistoryDetail {

    /** So many backups of a run are named. */
    private static final int MADE = 100;

    /** Runs that began longer than this before another do not bear on it. */
    private static final Duration LONG_RUN = Duration.ofHours(24);

    private static final int OTHERS = 200;
    private static final int HANGING = 60;

    private final Evaluations evaluations;
    private final Snapshot snapshot;
    private final Lookout.View view;

    @SuppressWarnings("NullAway.Init")
    private HistoryLines lines;

    HistoryDetail(Evaluations evaluations, Snapshot snapshot, Lookout.View view) {
        this.evaluations = evaluations;
        this.snapshot = snapshot;
        this.view = view;
    }

    HistoryLine of(Entry entry) {
        FleetNow fleet = evaluations.fleet(snapshot);
        String judged = fleet.standbys().primaryOf(entry.database());
        List<Evaluation> answers =
                evaluations.those(d -> d.id().equals(judged), view).answers();
        lines = new HistoryLines(fleet, view.asOf(), snapshot.entries()).with(answers);
        Optional<Slot> slot = lines.slot(entry);
        Optional<Backup> backup = entry.backup().filter(b -> !b.ended().isAfter(view.asOf()));
        Optional<Told.RunTold> told = entry.run().map(Told::of);
        boolean over = entry.ended().filter(e -> !e.isAfter(view.asOf())).isPresent();
        List<Course.Point> points = told.map(Told.RunTold::course).orElse(List.of()).stream()
                .filter(p -> !p.at().isAfter(view.asOf()))
                .toList();
        OptionalDouble usual = lines.usualRate(entry);
        return new HistoryLine(
                lines.line(entry),
                slot.map(s -> new HistoryLine.SlotOf(
                                s.schedule(), s.open(), s.close(), s.verdict().word()))
                        .orElse(null),
                slot.map(this::attempts).orElse(List.of()),
                entry.run().flatMap(Run::trigger).map(Trigger::word).orElse(null),
                entry.run().flatMap(this::ordered).orElse(null),
                over ? told.flatMap(Told.RunTold::output).orElse(null) : null,
                backup.map(Told::of).flatMap(Traits::note).orElse(null),
                backup.map(HistoryDetail::traits).orElse(List.of()),
                backup.flatMap(HistoryDetail::inLogs).orElse(null),
                points.stream()
                        .map(p -> new HistoryLine.CoursePoint(p.at(), p.readBytes(), p.writtenBytes()))
                        .toList(),
                stretches(entry, points, usual),
                usual.isPresent() ? usual.getAsDouble() : null,
                answers.isEmpty() ? List.of() : chain(answers.get(0), backup),
                answers.isEmpty() ? List.of() : hanging(answers.get(0), backup),
                entry.run().map(r -> made(r, backup)).orElse(List.of()),
                backup.map(b -> copies(fleet, answers, b)).orElse(List.of()));
    }

    /** What a run made beside one backup: a round of an archive brings many. */
    private List<HistoryLine.Hanging> made(Run run, Optional<Backup> own) {
        return snapshot.entries().made(run.id(), MADE).stream()
                .filter(m -> own.filter(b -> b.id().equals(m.backup())).isEmpty()
                        && !m.ended().isAfter(view.asOf()))
                .map(m -> new HistoryLine.Hanging(m.backup(), m.kind().word(), m.ended()))
                .toList();
    }

    private static Optional<HistoryLine.InLogs> inLogs(Backup backup) {
        return Told.written(backup.rest())
                .map(w -> new HistoryLine.InLogs(
                        backup.lineage().orElse("1"),
                        w.from(),
                        w.to(),
                        w.transactions().orElse(null)));
    }

    /** Who wanted a run that was started by hand from here, and what for. */
    private Optional<HistoryLine.Ordered> ordered(Run run) {
        return snapshot.documents("order").stream()
                .map(FleetFileReader::recordOf)
                .filter(Order.class::isInstance)
                .map(Order.class::cast)
                .filter(o -> o.id().equals(run.id()))
                .map(o -> new HistoryLine.Ordered(o.by(), o.reason(), o.name().orElse(null)))
                .findFirst();
    }

    private List<HistoryLine.AttemptView> attempts(Slot slot) {
        return slot.runs().stream().map(this::attempt).toList();
    }

    private HistoryLine.AttemptView attempt(Attempt a) {
        String message = a.state() == Attempt.Progress.RUNNING
                ? ""
                : snapshot.entries()
                        .of(a.id())
                        .flatMap(Entry::run)
                        .flatMap(Run::message)
                        .orElse("");
        return new HistoryLine.AttemptView(
                a.id(), a.started(), a.ended().orElse(null), a.state().name().toLowerCase(Locale.ROOT), message);
    }

    private static List<String> traits(Backup backup) {
        Traits t = Told.of(backup);
        List<String> out = new ArrayList<>();
        t.compressed().ifPresent(v -> out.add(v ? "compressed" : "not compressed"));
        t.encrypted().ifPresent(v -> out.add(v ? "encrypted" : "not encrypted"));
        t.checksummed().ifPresent(v -> out.add(v ? "checksummed" : "without checksums"));
        backup.verified().ifPresent(v -> out.add("verified " + v));
        if (!t.components().isEmpty()) {
            out.add("contains "
                    + String.join(", ", t.components().stream().sorted().toList()));
        }
        if (backup.selfContained()) {
            out.add("restorable without logs");
        }
        return out;
    }

    private List<HistoryLine.StretchView> stretches(Entry entry, List<Course.Point> points, OptionalDouble usual) {
        if (points.isEmpty()) {
            return List.of();
        }
        List<Paced> others = others(entry);
        return new Course(entry.started(), points)
                .stretches(usual, (from, to) -> pace(others, from, to)).stream()
                        .map(s -> new HistoryLine.StretchView(
                                s.from(),
                                s.to(),
                                s.readPerSecond(),
                                s.writtenPerSecond(),
                                s.share().isPresent() ? s.share().getAsDouble() : null,
                                s.slow(),
                                s.side().name().toLowerCase(Locale.ROOT)))
                        .toList();
    }

    /** Another run that wrote to the same store, and how fast as a share of what is usual of its like. */
    private record Paced(Instant from, Instant to, double share) {}

    private List<Paced> others(Entry entry) {
        Optional<String> store = entry.backup().flatMap(HistoryDetail::first);
        if (store.isEmpty()) {
            return List.of();
        }
        Instant end = entry.ended().orElse(view.asOf());
        EntryFilter filter = new EntryFilter(
                entry.started().minus(LONG_RUN),
                end.isBefore(view.asOf()) ? end : view.asOf(),
                EnumSet.of(Kind.FULL, Kind.DIFF, Kind.INCR),
                Set.of(),
                false,
                Optional.empty(),
                Optional.empty(),
                List.of());
        List<Paced> out = new ArrayList<>();
        for (Entry e : snapshot.entries().page(filter, Optional.empty(), OTHERS)) {
            Optional<Backup> b = e.backup();
            boolean beside = !e.id().equals(entry.id())
                    && b.isPresent()
                    && b.get().ended().isAfter(entry.started())
                    && b.flatMap(HistoryDetail::first).equals(store);
            OptionalDouble usual = beside ? lines.usualRate(e) : OptionalDouble.empty();
            if (usual.isPresent() && usual.getAsDouble() > 0) {
                double seconds =
                        Duration.between(b.get().started(), b.get().ended()).toMillis() / 1000.0;
                double rate = seconds > 0 ? HistoryLines.bytes(b.get()) / seconds : 0;
                out.add(new Paced(b.get().started(), b.get().ended(), rate / usual.getAsDouble()));
            }
        }
        return out;
    }

    /** The store a backup first came to lie in. */
    private static Optional<String> first(Backup backup) {
        return backup.copies().stream().min(Comparator.comparing(Copy::landed)).map(Copy::store);
    }

    private static OptionalDouble pace(List<Paced> others, Instant from, Instant to) {
        double[] shares = others.stream()
                .filter(o -> o.from.isBefore(to) && o.to.isAfter(from))
                .mapToDouble(Paced::share)
                .toArray();
        return shares.length == 0 ? OptionalDouble.empty() : OptionalDouble.of(Trend.median(shares));
    }

    private static List<HistoryLine.Hanging> chain(Evaluation e, Optional<Backup> backup) {
        History h = e.history();
        List<HistoryLine.Hanging> out = new ArrayList<>();
        int at = backup.map(b -> h.row(b.id()).orElse(-1)).orElse(-1);
        // A chain that runs in a circle is longer than there are backups.
        for (int steps = 0; at >= 0 && h.parent(at) >= 0 && steps < HANGING; steps++) {
            at = h.parent(at);
            out.add(0, hanging(h, at));
        }
        return out;
    }

    private List<HistoryLine.Hanging> hanging(Evaluation e, Optional<Backup> backup) {
        History h = e.history();
        int own = backup.map(b -> h.row(b.id()).orElse(-1)).orElse(-1);
        if (own < 0) {
            return List.of();
        }
        long now = view.asOf().toEpochMilli();
        Set<Integer> hangs = new HashSet<>(Set.of(own));
        List<HistoryLine.Hanging> out = new ArrayList<>();
        // What hangs from another began after it: one pass in the order of time finds all of it.
        for (int i : h.others().stream()
                .filter(i -> i != own && h.endedMs(i) <= now)
                .boxed()
                .sorted(Comparator.comparingLong(h::startedMs))
                .toList()) {
            if (out.size() < HANGING && hangs.contains(h.parent(i))) {
                hangs.add(i);
                out.add(hanging(h, i));
            }
        }
        return out;
    }

    private static HistoryLine.Hanging hanging(History h, int i) {
        return new HistoryLine.Hanging(h.id(i), h.kind(i).word(), Instant.ofEpochMilli(h.consistentAtMs(i)));
    }

    private List<HistoryLine.CopyView> copies(FleetNow fleet, List<Evaluation> answers, Backup backup) {
        Map<String, String> verdicts = new HashMap<>();
        for (Evaluation e : answers) {
            Retention r = e.retention();
            int row = e.history().row(backup.id()).orElse(-1);
            for (int k = 0; k < r.size(); k++) {
                if (r.backup(k) == row) {
                    verdicts.put(r.store(k), r.verdict(k).word());
                }
            }
        }
        return backup.copies().stream()
                .filter(c -> !c.landed().isAfter(view.asOf()))
                .sorted(Comparator.comparing(Copy::landed))
                .map(c -> new HistoryLine.CopyView(
                        c.store(),
                        fleet.storeName(c.store()),
                        c.landed(),
                        c.lockedUntil().orElse(null),
                        c.gone().filter(g -> !g.isAfter(view.asOf())).orElse(null),
                        c.spoiled()
                                .map(Spoilage::found)
                                .filter(f -> !f.isAfter(view.asOf()))
                                .orElse(null),
                        c.bytes().isPresent()
                                ? c.bytes().getAsDouble()
                                : backup.bytes().orElse(0),
                        Told.path(c).orElse(null),
                        verdicts.get(c.store()),
                        evidence(Told.evidence(c.rest()))))
                .toList();
    }

    private static HistoryLine.EvidenceView evidence(Told.Known known) {
        return new HistoryLine.EvidenceView(
                known.is().word(), known.by().orElse(null), known.at().orElse(null));
    }
}
