package firth.server.reports;

import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.wording.Wording;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Works out reports. Every figure is the core's. */
@ApplicationScoped
public class ReportMaker {

    private static final Comparator<ReportView.ReportBreach> WORST_FIRST = Comparator.comparing(
                    ReportView.ReportBreach::worst)
            .reversed()
            .thenComparing(ReportView.ReportBreach::from)
            .thenComparing(ReportView.ReportBreach::database)
            .thenComparing(ReportView.ReportBreach::hazard);

    private final Evaluations evaluations;
    private final DeedsOfPeriod doings;

    ReportMaker(Evaluations evaluations, DeedsOfPeriod doings) {
        this.evaluations = evaluations;
        this.doings = doings;
    }

    public ReportView report(ReportScope scope) {
        Span period = scope.period();
        Instant end = period.to().isAfter(scope.asOf()) ? scope.asOf() : period.to();
        boolean future = !period.from().isBefore(scope.asOf());
        Span shown = future ? new Span(period.from(), period.from()) : new Span(period.from(), end);
        Span earlier = new Span(period.from().minus(Duration.between(period.from(), period.to())), period.from());
        List<ReportFigures> told = figures(scope, shown, earlier, end);
        FleetNow fleet = evaluations.fleetNow();
        List<Database> databases = told.stream().map(ReportFigures::database).toList();
        return new ReportView(
                scope.by(),
                scope.of(),
                scope.title(fleet),
                period.from(),
                period.to(),
                scope.asOf(),
                notes(scope, told, future),
                told.stream().map(ReportFigures::row).toList(),
                told.stream()
                        .flatMap(t -> t.breaches().stream())
                        .sorted(WORST_FIRST)
                        .toList(),
                told.stream().flatMap(t -> t.gaps().stream()).toList(),
                doings.drills(fleet, databases, shown),
                doings.purges(fleet, databases, shown),
                doings.accepted(databases, shown, scope.by().equals("fleet")),
                policies(fleet, databases, shown),
                changes(fleet, databases, shown));
    }

    /**
     * Of each database in service in the period, by name. The answers, of up to three views each, are looked at a few at a time, so that
     * a report of a large fleet does not hold its history.
     */
    private List<ReportFigures> figures(ReportScope scope, Span shown, Span earlier, Instant end) {
        Map<String, Map<Hazard, ReportView.Before>> before =
                walked(scope, new Lookout.View(scope.asOf(), earlier), one -> ReportFigures.before(one.answer()));
        CoverRows rows = new CoverRows(evaluations.fleetNow(), new Lookout.View(end, shown));
        Map<String, ReportFigures.AtEnd> then = end.equals(scope.asOf())
                ? Map.of()
                : walked(scope, new Lookout.View(end, shown), one -> ReportFigures.AtEnd.of(one, rows));
        return walked(scope, new Lookout.View(scope.asOf(), shown), one -> {
                    ReportFigures.AtEnd atEnd = then.isEmpty()
                            ? ReportFigures.AtEnd.of(one, rows)
                            : Objects.requireNonNull(then.get(one.id()));
                    return ReportFigures.of(one, atEnd, Objects.requireNonNull(before.get(one.id())), shown);
                })
                .values()
                .stream()
                .filter(t -> t.database().inServiceFrom().isBefore(end)
                        && t.database()
                                .particulars()
                                .retired()
                                .filter(r -> !r.isAfter(scope.period().from()))
                                .isEmpty())
                .sorted(Comparator.comparing(t -> t.database().name()))
                .toList();
    }

    /** By database. */
    private <T> Map<String, T> walked(ReportScope scope, Lookout.View view, Function<Answered, T> making) {
        Map<String, T> out = new LinkedHashMap<>();
        evaluations
                .walk(scope.databases(), view, one -> Map.entry(one.id(), making.apply(one)))
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    private static List<String> notes(ReportScope scope, List<ReportFigures> told, boolean future) {
        List<String> out = new ArrayList<>();
        if (future) {
            out.add("This period has not begun as of " + ReportDocument.moment(scope.asOf())
                    + " UTC: there is nothing to report yet.");
        } else if (scope.period().to().isAfter(scope.asOf())) {
            out.add("This period is not over: figures are up to " + ReportDocument.moment(scope.asOf()) + " UTC.");
        }
        if (told.isEmpty()) {
            out.add("No database falls under it in this period.");
        }
        List<String> later = told.stream()
                .map(ReportFigures::database)
                .filter(d -> d.inServiceFrom().isAfter(scope.period().from()))
                .map(Database::name)
                .toList();
        if (!later.isEmpty()) {
            out.add("In service for a part of it only: " + String.join(", ", later) + ".");
        }
        List<String> takenOn = told.stream()
                .filter(t -> t.onboards() || t.row().onboardingUntil() != null)
                .map(t -> t.database().name()
                        + Optional.ofNullable(t.row().onboardingUntil())
                                .map(u -> " until " + ReportDocument.moment(u))
                                .orElse(", still"))
                .toList();
        if (!takenOn.isEmpty()) {
            out.add("Being onboarded, which is no breach and counts in no figure: " + String.join("; ", takenOn)
                    + " (UTC).");
        }
        return out;
    }

    /** Versions in force at some moment of the period. */
    private static List<ReportView.ReportPolicy> policies(FleetNow fleet, List<Database> databases, Span period) {
        Set<String> followed = databases.stream()
                .flatMap(d -> fleet.fleet().changes(d).stream()
                        .filter(at -> at.isBefore(period.to()))
                        .flatMap(at -> d.policyAt(at.isBefore(period.from()) ? period.from() : at).stream()))
                .collect(Collectors.toSet());
        List<ReportView.ReportPolicy> out = new ArrayList<>();
        for (String id : followed.stream().sorted().toList()) {
            List<PolicyVersion> versions = fleet.fleet().versions(id);
            for (int k = 0; k < versions.size(); k++) {
                PolicyVersion v = versions.get(k);
                boolean over = k + 1 < versions.size()
                        && !versions.get(k + 1).effectiveFrom().isAfter(period.from());
                if (v.effectiveFrom().isBefore(period.to()) && !over) {
                    out.add(new ReportView.ReportPolicy(id, v.name(), v.version(), v.effectiveFrom(), promise(v)));
                }
            }
        }
        return out;
    }

    private static String promise(PolicyVersion v) {
        List<String> out = new ArrayList<>();
        if (!v.enabled()) {
            return "switched off";
        }
        Arrays.stream(Hazard.values())
                .forEach(h -> Optional.ofNullable(v.objective().rpo().get(h))
                        .ifPresent(d -> out.add(ReportDocument.hazard(h.field()) + " " + Wording.duration(d))));
        v.objective().reach().ifPresent(d -> out.add("reach " + Wording.duration(d)));
        v.objective().restoreTime().ifPresent(d -> out.add("restored within " + Wording.duration(d)));
        v.objective().drillEvery().ifPresent(d -> out.add("a drill every " + Wording.duration(d)));
        return out.isEmpty() ? "nothing is promised" : String.join(", ", out);
    }

    private static List<ReportView.ReportChange> changes(FleetNow fleet, List<Database> databases, Span period) {
        List<ReportView.ReportChange> out = new ArrayList<>();
        for (Database d : databases) {
            in(period, Optional.of(d.inServiceFrom()), d.name() + " came into service", out);
            in(period, d.particulars().retired(), d.name() + " was retired", out);
            d.assigned()
                    .forEach(a -> in(
                            period,
                            Optional.of(a.from()),
                            d.name()
                                    + a.policy()
                                            .map(p -> " was given policy "
                                                    + fleet.fleet()
                                                            .versionAt(p, a.from())
                                                            .map(PolicyVersion::name)
                                                            .orElse(p))
                                            .orElse(" was left without a policy"),
                            out));
            d.lineages().stream()
                    .skip(1)
                    .forEach(l -> in(period, l.openedAt(), d.name() + " went on as lineage " + l.id(), out));
        }
        out.sort(Comparator.comparing(ReportView.ReportChange::at).thenComparing(ReportView.ReportChange::text));
        return out;
    }

    private static void in(Span period, Optional<Instant> at, String text, List<ReportView.ReportChange> out) {
        at.filter(a -> !a.isBefore(period.from()) && a.isBefore(period.to()))
                .ifPresent(a -> out.add(new ReportView.ReportChange(a, text)));
    }
}
