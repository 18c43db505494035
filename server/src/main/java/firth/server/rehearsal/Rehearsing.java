package firth.server.rehearsal;

import firth.core.cover.Losses;
import firth.core.history.DatabaseFacts;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.model.Site;
import firth.core.restore.LossRehearsal;
import firth.core.restore.RestoreSchedule;
import firth.core.restore.Restoring;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.restore.Plans;
import firth.store.Snapshot;
import firth.wording.Wording;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Judges a loss database by database, and puts the restores it asks for in order. */
@ApplicationScoped
class Rehearsing {

    private final Evaluations evaluations;
    private final FactsHolder facts;

    Rehearsing(Evaluations evaluations, FactsHolder facts) {
        this.evaluations = evaluations;
        this.facts = facts;
    }

    /** Somebody wanted no more of it. */
    static final class Stopped extends RuntimeException {
        Stopped() {
            super("stopped");
        }
    }

    private FleetNow fleet() {
        try (Snapshot snapshot = facts.store().read()) {
            return evaluations.fleet(snapshot);
        }
    }

    private static Stream<Database> served(FleetNow fleet) {
        return fleet.databases().values().stream()
                .filter(d -> d.particulars().standbyOf().isEmpty());
    }

    int count() {
        return (int) served(fleet()).count();
    }

    RehearsalView.Losable losable() {
        FleetNow fleet = fleet();
        Map<String, Long> at = served(fleet)
                .flatMap(d -> d.site().stream())
                .collect(Collectors.groupingBy(Function.identity(), Collectors.counting()));
        Map<String, Long> on = served(fleet)
                .flatMap(d -> d.particulars().host().stream())
                .collect(Collectors.groupingBy(Function.identity(), Collectors.counting()));
        return new RehearsalView.Losable(
                things(fleet.sites().values().stream()
                        .map(s -> new RehearsalView.Thing(
                                s.id(), s.name(), at.getOrDefault(s.id(), 0L).intValue()))),
                things(fleet.fleet().stores().stream().map(s -> new RehearsalView.Thing(s.id(), s.name(), 0))),
                things(on.entrySet().stream()
                        .map(h -> new RehearsalView.Thing(
                                h.getKey(), h.getKey(), h.getValue().intValue()))));
    }

    private static List<RehearsalView.Thing> things(Stream<RehearsalView.Thing> all) {
        return all.sorted(Comparator.comparing(RehearsalView.Thing::name)).toList();
    }

    private static Set<String> hosts(FleetNow fleet) {
        return served(fleet).flatMap(d -> d.particulars().host().stream()).collect(Collectors.toSet());
    }

    void check(RehearsalView.Losing asked) {
        FleetNow fleet = fleet();
        unknown(asked.sites(), fleet.sites().keySet(), "sites");
        unknown(
                asked.stores(),
                fleet.fleet().stores().stream().map(BackupStore::id).collect(Collectors.toSet()),
                "stores");
        unknown(asked.hosts(), hosts(fleet), "hosts");
    }

    private static void unknown(List<String> asked, Set<String> known, String what) {
        asked.stream().filter(a -> !known.contains(a)).findFirst().ifPresent(a -> {
            throw new BadRequest(what, "name " + a + ", which nobody knows");
        });
    }

    String title(RehearsalView.Losing asked) {
        FleetNow fleet = fleet();
        return Stream.of(
                        asked.sites().stream()
                                .map(s -> Optional.ofNullable(fleet.sites().get(s))
                                        .map(Site::name)
                                        .orElse(s)),
                        asked.stores().stream().map(fleet::storeName),
                        asked.hosts().stream(),
                        asked.unlocked() ? Stream.of("everything not locked") : Stream.<String>empty())
                .flatMap(s -> s)
                .collect(Collectors.joining(", "));
    }

    /** One database judged. */
    private record Judged(
            Database database, Optional<PolicyVersion> version, boolean down, LossRehearsal.Left outcome) {}

    /** @param goesOn called after each database; where it says no, the rest is left */
    RehearsalView.Rehearsed of(RehearsalView.Losing losing, Instant moment, BooleanSupplier goesOn) {
        Losses losses = new Losses(Set.copyOf(losing.stores()), Set.copyOf(losing.sites()));
        Hazard hazard = losing.unlocked() ? Hazard.SABOTAGE : Hazard.MISHAP;
        FleetNow[] known = new FleetNow[1];
        List<Judged> judged = evaluations
                .ofFacts((fleet, own) -> {
                    known[0] = fleet;
                    Optional<Judged> one = judge(fleet, own, losing, moment, hazard, losses);
                    if (!goesOn.getAsBoolean()) {
                        throw new Stopped();
                    }
                    return one;
                })
                .stream()
                .flatMap(Optional::stream)
                .toList();
        return judged.isEmpty()
                ? new RehearsalView.Rehearsed(moment, 0, 0, 0, 0, 0, 0, 0, 0, null, 0, List.of(), List.of())
                : result(known[0], judged, losing, moment);
    }

    private static Optional<Judged> judge(
            FleetNow fleet,
            DatabaseFacts own,
            RehearsalView.Losing losing,
            Instant moment,
            Hazard hazard,
            Losses losses) {
        Database d = own.database();
        if (!d.isServedAt(moment)) {
            return Optional.empty();
        }
        boolean down = d.site().filter(losing.sites()::contains).isPresent()
                || d.particulars().host().filter(losing.hosts()::contains).isPresent();
        return Optional.of(new Judged(
                d,
                fleet.fleet().versionAt(d, moment).filter(PolicyVersion::enabled),
                down,
                LossRehearsal.of(own, fleet.fleet(), moment, hazard, losses)));
    }

    private static RehearsalView.Rehearsed result(
            FleetNow fleet, List<Judged> judged, RehearsalView.Losing losing, Instant moment) {
        boolean anyDown = judged.stream().anyMatch(Judged::down);
        List<Judged> wanted = judged.stream().filter(j -> j.down || !anyDown).toList();
        Map<String, Double> rates = new HashMap<>();
        fleet.fleet().stores().forEach(s -> s.readBytesPerSecond().ifPresent(r -> rates.put(s.id(), r)));
        List<Restoring> restores = new ArrayList<>();
        for (Judged j : wanted) {
            j.outcome
                    .way()
                    .flatMap(w -> Restoring.of(j.database.id(), w, promised(j), s -> Optional.ofNullable(rates.get(s))))
                    .ifPresent(restores::add);
        }
        RestoreSchedule.Compared compared = RestoreSchedule.compared(restores, rates, losing.sideBySide());
        RestoreSchedule schedule = compared.best();
        Map<String, RestoreSchedule.Entry> placed = schedule.entries().stream()
                .collect(Collectors.toMap(e -> e.what().database(), e -> e));
        Hazard meant = losing.unlocked()
                ? Hazard.SABOTAGE
                : losing.sites().isEmpty() && losing.stores().isEmpty() ? Hazard.MISHAP : Hazard.SITE_LOSS;
        List<RehearsalView.RehearsedRow> rows = judged.stream()
                .map(j -> row(fleet, j, moment, meant, j.down || !anyDown, placed.get(j.database.id())))
                .sorted(Comparator.comparing((RehearsalView.RehearsedRow r) -> !r.restored())
                        .thenComparing(r -> r.reached() != null)
                        .thenComparing(r -> r.begins() == null ? Double.MAX_VALUE : r.begins())
                        .thenComparing(RehearsalView.RehearsedRow::name))
                .toList();
        List<RehearsalView.RehearsedRow> back =
                rows.stream().filter(RehearsalView.RehearsedRow::restored).toList();
        return new RehearsalView.Rehearsed(
                moment,
                judged.size(),
                (int) judged.stream().filter(Judged::down).count(),
                back.size(),
                (int) back.stream().filter(r -> r.reached() == null).count(),
                (int) restores.stream().filter(r -> r.promised().isPresent()).count(),
                schedule.kept(),
                Plans.seconds(schedule.total()),
                (int) back.stream()
                        .filter(r -> r.reached() != null && r.begins() == null)
                        .count(),
                back.stream()
                        .map(RehearsalView.RehearsedRow::age)
                        .filter(Objects::nonNull)
                        .max(Double::compare)
                        .orElse(null),
                (int) back.stream().filter(RehearsalView.RehearsedRow::heldBack).count(),
                IntStream.range(0, compared.upTo().size())
                        .mapToObj(n -> new RehearsalView.AtATime(
                                n + 1,
                                compared.upTo().get(n).kept(),
                                Plans.seconds(compared.upTo().get(n).total())))
                        .toList(),
                rows);
    }

    private static Optional<Duration> promised(Judged j) {
        return j.version.flatMap(v -> v.objective().restoreTime());
    }

    private static RehearsalView.RehearsedRow row(
            FleetNow fleet,
            Judged j,
            @Nullable Instant moment,
            Hazard meant,
            boolean restored,
            RestoreSchedule.@Nullable Entry placed) {
        Optional<Instant> reached = j.outcome.reached();
        Optional<Duration> age = reached.map(r -> Duration.between(r, moment));
        Optional<Duration> objective =
                j.version.flatMap(v -> Optional.ofNullable(v.objective().rpo().get(meant)));
        return new RehearsalView.RehearsedRow(
                j.database.id(),
                j.database.name(),
                j.version.map(PolicyVersion::name).orElse(null),
                j.down,
                restored,
                reached.orElse(null),
                age.map(Plans::seconds).orElse(null),
                objective
                        .map(o -> age.filter(a -> a.compareTo(o) <= 0).isPresent())
                        .orElse(null),
                j.outcome
                        .way()
                        .filter(Way::timeKnown)
                        .map(w -> Plans.seconds(w.time()))
                        .orElse(null),
                placed == null ? null : Plans.seconds(placed.begins()),
                placed == null ? null : Plans.seconds(placed.ends()),
                placed != null && placed.heldBack(),
                promised(j).map(Plans::seconds).orElse(null),
                j.outcome.way().map(Way::steps).orElse(List.of()).stream()
                        .map(Step::store)
                        .distinct()
                        .map(fleet::storeName)
                        .toList(),
                reached.isPresent() ? null : cure(fleet, j.outcome.cure()));
    }

    private static String cure(FleetNow fleet, Optional<LossRehearsal.Cure> cure) {
        if (cure.isEmpty()) {
            return "nothing of it can be restored as it is: take a full";
        }
        LossRehearsal.Cure c = cure.get();
        String where = c.store().map(fleet::storeName).orElse("");
        return switch (c.what()) {
            case "lock" -> "cheapest: lock what lies in " + where + " already";
            case "copy" ->
                "send its backups to " + where + " as well, "
                        + (c.bytes() > 0 ? Wording.bytes(c.bytes()) + " to begin with" : "how much is not known");
            default -> "no store would survive this: state one that does";
        };
    }
}
