package firth.server.restore;

import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Component;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.restore.Planning;
import firth.core.restore.RestorePlan;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.exchange.Told;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/** Makes plans of restores, from what is really left. */
@ApplicationScoped
public class Plans {

    /** So many ways are shown; there may be as many as data backups. */
    private static final int WAYS = 5;

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("dMMM", Locale.ENGLISH);

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    Plans(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    RestoreView plan(String database, PlanAsked asked) {
        Lookout.View view = lookout.view(asked.asOf(), "");
        Evaluations.Fleetwide one = evaluations.one(database, view);
        Evaluation e = one.answers().get(0);
        DatabaseFacts own = one.facts(e);
        Planning planning = new Planning(own, one.fleet().fleet(), view.asOf(), asked.hazard(), asked.losses());
        Database d = e.database();
        Found found = find(d, planning, asked);
        try (Snapshot snapshot = facts.store().read()) {
            List<Way> ways = holding(d, asked, found.ways, snapshot);
            WayRows rows = new WayRows(one.fleet(), e, snapshot);
            List<RestoreView.PlanWay> shown = IntStream.range(0, Math.min(WAYS, ways.size()))
                    .mapToObj(k -> rows.row(ways.get(k), ways.get(0)))
                    .toList();
            Optional<DrillTimes.Proof> proof =
                    new DrillTimes(snapshot, own, one.fleet().fleet()).newest(view.asOf());
            RestorePlan plan = found.plan;
            return new RestoreView(
                    d.id(),
                    d.name(),
                    d.zone().getId(),
                    d.engine().orElse(null),
                    view.asOf(),
                    asked.hazard().field(),
                    plan.target().orElse(null),
                    // An engine asked to stop later than that would wait for it for ever.
                    ways.stream()
                            .findFirst()
                            .flatMap(w -> lastCommit(w, own.history(), snapshot))
                            .filter(l -> plan.target().filter(l::isBefore).isPresent())
                            .orElse(null),
                    found.positions.entrySet().stream()
                            .map(p -> new RestoreView.StreamPosition(p.getKey(), p.getValue()))
                            .toList(),
                    shown,
                    ways.size() - shown.size(),
                    plan.gap()
                            .map(g -> new RestoreView.PlanHole(
                                    g.stream(),
                                    g.after().orElse(null),
                                    g.before().orElse(null),
                                    g.cause().word()))
                            .orElse(null),
                    plan.before().orElse(null),
                    plan.after().orElse(null),
                    promised(e).map(Plans::seconds).orElse(null),
                    proof.flatMap(DrillTimes.Proof::factor).orElse(null),
                    proof.map(Plans::proof).orElse(null),
                    places(one.fleet(), e),
                    d.streams(),
                    IntStream.range(0, d.lineages().size())
                            .mapToObj(l -> d.lineages().get(l).id())
                            .toList(),
                    d.particulars().components().stream().map(Component::name).toList(),
                    ways.stream()
                            .findFirst()
                            .filter(w -> WayInFull.isScripted(d, w, snapshot))
                            .isPresent(),
                    destination(d, view.asOf(), plan, ways, snapshot));
        }
    }

    private record Found(RestorePlan plan, List<Way> ways, Map<String, Long> positions) {}

    private static Found find(Database d, Planning planning, PlanAsked asked) {
        Map<String, Long> positions = asked.positions();
        if (positions.isEmpty()) {
            RestorePlan plan = asked.moment().map(planning::to).orElseGet(planning::everything);
            return new Found(plan, plan.ways(), Map.of());
        }
        if (!positions.keySet().equals(Set.copyOf(d.streams()))) {
            throw new BadRequest(
                    "positions", "are to be given for " + String.join(", ", d.streams()) + ", one for each stream");
        }
        String lineage = asked.lineage()
                .orElse(planning.restorable().stream()
                        .reduce((first, last) -> last)
                        .map(Piece::lineage)
                        .orElse(d.lineages().get(0).id()));
        if (d.lineages().stream().noneMatch(l -> l.id().equals(lineage))) {
            throw new BadRequest("lineage", lineage + " is none of " + d.id());
        }
        List<Way> ways = planning.toPositions(lineage, positions);
        RestorePlan plan =
                new RestorePlan(Optional.empty(), ways, Optional.empty(), Optional.empty(), Optional.empty());
        return new Found(plan, ways, positions);
    }

    /** The ways that lead to what is asked for, the best first. */
    static List<Way> ways(Database d, Planning planning, PlanAsked asked, Snapshot snapshot) {
        return holding(d, asked, find(d, planning, asked).ways, snapshot);
    }

    /** The ways of which every data backup holds the part asked for; one that names none holds them all. */
    private static List<Way> holding(Database d, PlanAsked asked, List<Way> ways, Snapshot snapshot) {
        if (asked.component().isEmpty()) {
            return ways;
        }
        String component = asked.component().get();
        if (d.particulars().components().stream().noneMatch(c -> c.name().equals(component))) {
            throw new BadRequest("component", component + " is none of " + d.id());
        }
        return ways.stream()
                .filter(w -> w.chain().stream().allMatch(s -> {
                    Set<String> held = Told.traits(snapshot.rest(s.backup())).components();
                    return held.isEmpty() || held.contains(component);
                }))
                .toList();
    }

    /** The last change that is known of the furthest logs on the best way. */
    static Optional<Instant> lastCommit(Way way, History history, Snapshot snapshot) {
        Map<String, String> furthest = new TreeMap<>();
        holdingSomething(way, history).forEach(s -> furthest.put(s.stream().orElse(""), s.backup()));
        List<Optional<Instant>> last = furthest.values().stream()
                .map(b -> Told.lastCommit(snapshot.rest(b)))
                .toList();
        return last.stream().anyMatch(Optional::isEmpty)
                ? Optional.empty()
                : last.stream().flatMap(Optional::stream).max(Instant::compareTo);
    }

    /** The logs to apply. One in which nothing happened says only until when a database is complete: there is no file of it. */
    static List<Step> holdingSomething(Way way, History history) {
        return way.logs().stream()
                .filter(s -> {
                    int row = history.row(s.backup()).orElseThrow();
                    return history.logTo(row) > history.logFrom(row);
                })
                .toList();
    }

    static Optional<Duration> promised(Evaluation e) {
        return e.version()
                .filter(PolicyVersion::enabled)
                .flatMap(v -> v.objective().restoreTime());
    }

    public static double seconds(Duration d) {
        return d.toMillis() / 1000.0;
    }

    private static RestoreView.DrillProof proof(DrillTimes.Proof p) {
        return new RestoreView.DrillProof(
                p.drill().id(),
                p.drill().at().orElseThrow(),
                p.took().map(Plans::seconds).orElse(null),
                p.expected().map(Plans::seconds).orElse(null),
                p.drill().checks());
    }

    /** The stores in which copies of it were ever known to lie. */
    private static List<RestoreView.PlanPlace> places(FleetNow fleet, Evaluation e) {
        Set<String> holding = new HashSet<>();
        for (int r = 0; r < e.retention().size(); r++) {
            holding.add(e.retention().store(r));
        }
        return fleet.fleet().stores().stream()
                .filter(s -> holding.contains(s.id()))
                .map(s -> new RestoreView.PlanPlace(
                        s.id(),
                        s.name(),
                        fleet.siteName(s.site()),
                        s.site().orElse(null),
                        s.medium().orElse(""),
                        s.role().map(r -> r.word()).orElse("")))
                .sorted(java.util.Comparator.comparing(RestoreView.PlanPlace::role)
                        .reversed()
                        .thenComparing(RestoreView.PlanPlace::name))
                .toList();
    }

    private static RestoreView.Destination destination(
            Database d, Instant asOf, RestorePlan plan, List<Way> ways, Snapshot snapshot) {
        OptionalDouble bytes = d.sizeBytes();
        // Of the data backups alone: logs may be many, and a checklist asks each of them.
        List<String> keys = ways.stream()
                .limit(1)
                .flatMap(w -> Stream.concat(w.config().stream(), w.chain().stream()))
                .map(Step::backup)
                .flatMap(b -> Told.key(snapshot.rest(b)).stream())
                .distinct()
                .toList();
        String day = DAY.format(plan.target().orElse(asOf).atZone(d.zone())).toLowerCase(Locale.ROOT);
        return new RestoreView.Destination(
                d.id() + "-" + day,
                d.particulars().host().orElse(""),
                bytes.isPresent() ? bytes.getAsDouble() : null,
                keys,
                Checklist.STATES);
    }
}
