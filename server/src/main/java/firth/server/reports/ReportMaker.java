package firth.server.reports;

import firth.core.adherence.SlotVerdict;
import firth.core.cover.Gap;
import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.DrillFindings;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.core.retention.Reason;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.server.cover.CoverRows;
import firth.server.database.AgeSlices;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.wording.Wording;
import firth.wording.explain.BreachCause;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
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

    /** So many slices of ages are drawn of a period. */
    private static final int AGES = 180;

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
        Lookout.View view = new Lookout.View(scope.asOf(), shown);
        Evaluations.Fleetwide all = evaluations.those(scope.databases(), view);
        Map<String, Evaluation> before =
                byId(evaluations.those(scope.databases(), new Lookout.View(scope.asOf(), earlier)));
        Evaluations.Fleetwide atEnd =
                end.equals(scope.asOf()) ? all : evaluations.those(scope.databases(), new Lookout.View(end, shown));
        Map<String, Evaluation> then = byId(atEnd);
        List<Evaluation> answers = all.answers().stream()
                .filter(e -> e.database().inServiceFrom().isBefore(end)
                        && e.database()
                                .particulars()
                                .retired()
                                .filter(r -> !r.isAfter(period.from()))
                                .isEmpty())
                .sorted(Comparator.comparing(e -> e.database().name()))
                .toList();
        CoverRows rows = new CoverRows(all.fleet(), new Lookout.View(end, shown));
        return new ReportView(
                scope.by(),
                scope.of(),
                scope.title(all.fleet()),
                period.from(),
                period.to(),
                scope.asOf(),
                notes(scope, answers, future),
                answers.stream()
                        .map(e -> row(
                                all,
                                new Standing(
                                        e,
                                        Objects.requireNonNull(
                                                then.get(e.database().id()))),
                                Objects.requireNonNull(before.get(e.database().id())),
                                rows))
                        .toList(),
                breaches(answers),
                gaps(answers, shown),
                doings.drills(all, answers, shown),
                doings.purges(all.fleet(), answers, shown),
                doings.accepted(answers, shown, scope.by().equals("fleet")),
                policies(all, answers, shown),
                changes(all, answers, shown));
    }

    /** What is known of the period, and how the database stood at its end. */
    private record Standing(Evaluation period, Evaluation end) {}

    private static Map<String, Evaluation> byId(Evaluations.Fleetwide fleet) {
        return fleet.answers().stream()
                .collect(Collectors.toMap(e -> e.database().id(), Function.identity()));
    }

    private static List<String> notes(ReportScope scope, List<Evaluation> answers, boolean future) {
        List<String> out = new ArrayList<>();
        if (future) {
            out.add("This period has not begun as of " + ReportDocument.moment(scope.asOf())
                    + " UTC: there is nothing to report yet.");
        } else if (scope.period().to().isAfter(scope.asOf())) {
            out.add("This period is not over: figures are up to " + ReportDocument.moment(scope.asOf()) + " UTC.");
        }
        if (answers.isEmpty()) {
            out.add("No database falls under it in this period.");
        }
        List<String> later = answers.stream()
                .map(Evaluation::database)
                .filter(d -> d.inServiceFrom().isAfter(scope.period().from()))
                .map(Database::name)
                .toList();
        if (!later.isEmpty()) {
            out.add("In service for a part of it only: " + String.join(", ", later) + ".");
        }
        List<String> takenOn = answers.stream()
                .filter(e -> onboardingUntil(e).isPresent() || e.onboarding().lasts())
                .map(e -> e.database().name()
                        + onboardingUntil(e)
                                .map(u -> " until " + ReportDocument.moment(u))
                                .orElse(", still"))
                .toList();
        if (!takenOn.isEmpty()) {
            out.add("Being onboarded, which is no breach and counts in no figure: " + String.join("; ", takenOn)
                    + " (UTC).");
        }
        return out;
    }

    /** When the database had its first restorable moment, where it came into service in the period without one. */
    private static Optional<Instant> onboardingUntil(Evaluation e) {
        Instant inService = e.database().inServiceFrom();
        return e.onboarding().lasts()
                ? Optional.empty()
                : Optional.of(Instant.ofEpochMilli(e.onboarding().until()))
                        .filter(u -> u.isAfter(inService)
                                && u.isAfter(e.period().from())
                                && inService.isBefore(e.period().to()));
    }

    private static ReportView.ReportRow row(
            Evaluations.Fleetwide all, Standing standing, Evaluation before, CoverRows rows) {
        Evaluation e = standing.period();
        Evaluation end = standing.end();
        Map<SlotVerdict, Long> slots =
                e.slots().stream().collect(Collectors.groupingBy(s -> s.verdict(), Collectors.counting()));
        Function<SlotVerdict, Integer> of = v -> slots.getOrDefault(v, 0L).intValue();
        Optional<PolicyVersion> version = end.version().filter(PolicyVersion::enabled);
        DrillFindings.DrillStanding drills =
                DrillFindings.standing(end, all.fleet().drills(e.database().id()));
        Optional<Way> way = new Planning(all.facts(end), all.fleet().fleet(), end.asOf(), Hazard.MISHAP, Losses.NONE)
                .latest().ways().stream().findFirst().filter(Way::timeKnown);
        Set<Integer> pending = new HashSet<>();
        int obsolete = 0;
        double bytes = 0;
        for (int k = 0; k < end.retention().size(); k++) {
            if (end.retention().has(k, Reason.COPY_PENDING)) {
                pending.add(end.retention().backup(k));
            }
            if (end.retention().verdict(k) != Verdict.NEEDED) {
                obsolete++;
                double own = end.retention().bytes(k);
                bytes += Double.isNaN(own) ? 0 : own;
            }
        }
        return new ReportView.ReportRow(
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                version.map(v -> v.name() + ", version " + v.version()).orElse(null),
                Wording.grade(end),
                Optional.of(Wording.grade(e))
                        .filter(today -> !today.equals(Wording.grade(end)))
                        .orElse(null),
                onboardingUntil(e).orElse(null),
                Arrays.stream(Hazard.values()).map(h -> kept(h, e, before)).toList(),
                end.reach().target().map(ReportMaker::seconds).orElse(null),
                seconds(end.reach().achieved()),
                end.reach().cover().orElse(null),
                e.slots().size() - of.apply(SlotVerdict.SUPERSEDED) - of.apply(SlotVerdict.PLANNED),
                of.apply(SlotVerdict.ON_TIME),
                of.apply(SlotVerdict.LATE),
                of.apply(SlotVerdict.OVERRAN),
                of.apply(SlotVerdict.FAILED),
                of.apply(SlotVerdict.MISSED),
                of.apply(SlotVerdict.EXCUSED),
                (int) e.cadence().stream().mapToLong(c -> c.missed()).sum(),
                (int) e.gaps().stream().filter(g -> !g.bridged()).count(),
                (int) e.gaps().stream().filter(Gap::bridged).count(),
                version.flatMap(v -> v.objective().restoreTime())
                        .map(ReportMaker::seconds)
                        .orElse(null),
                way.map(w -> seconds(w.time())).orElse(null),
                drills.proved().flatMap(d -> d.at()).orElse(null),
                drills.due().orElse(null),
                obsolete,
                bytes,
                version.map(PolicyVersion::copies).flatMap(ReportMaker::rule).orElse(null),
                pending.size(),
                rows.row(end).water(),
                AgeSlices.of(e.mishap(), AGES));
    }

    private static Optional<String> rule(CopiesRule r) {
        List<String> out = new ArrayList<>();
        count(out, r.stores(), "stores");
        count(out, r.media(), "media");
        count(out, r.offsite(), "elsewhere");
        count(out, r.locked(), "locked");
        return out.isEmpty() ? Optional.empty() : Optional.of(String.join(", ", out));
    }

    private static void count(List<String> out, int n, String what) {
        if (n > 0) {
            out.add(n + " " + what);
        }
    }

    private static ReportView.Kept kept(Hazard hazard, Evaluation e, Evaluation before) {
        HazardEvaluation h = e.under(hazard);
        HazardEvaluation b = before.under(hazard);
        return new ReportView.Kept(
                hazard.field(),
                h.objective().map(ReportMaker::seconds).orElse(null),
                h.achieved().max() / 1000,
                h.achieved().p50() / 1000,
                h.achieved().p95() / 1000,
                h.achieved().p99() / 1000,
                h.achieved().attainment().orElse(null),
                h.breaches().size(),
                new ReportView.Before(
                        b.achieved().max() / 1000,
                        b.achieved().attainment().orElse(null),
                        b.breaches().size()));
    }

    private static List<ReportView.ReportBreach> breaches(List<Evaluation> answers) {
        List<ReportView.ReportBreach> out = new ArrayList<>();
        for (Evaluation e : answers) {
            e.hazards()
                    .forEach((hazard, h) -> h.breaches()
                            .forEach(b -> out.add(new ReportView.ReportBreach(
                                    e.database().id(),
                                    e.database().name(),
                                    hazard.field(),
                                    b.from(),
                                    b.to(),
                                    b.worstMs() / 1000.0,
                                    BreachCause.of(e, hazard, b)))));
        }
        out.sort(Comparator.comparing(ReportView.ReportBreach::worst)
                .reversed()
                .thenComparing(ReportView.ReportBreach::from)
                .thenComparing(ReportView.ReportBreach::database)
                .thenComparing(ReportView.ReportBreach::hazard));
        return out;
    }

    private static List<ReportView.ReportGap> gaps(List<Evaluation> answers, Span period) {
        return answers.stream()
                .flatMap(e -> e.gaps().stream()
                        .filter(g ->
                                g.after().filter(a -> !a.isBefore(period.to())).isEmpty()
                                        && g.before()
                                                .filter(b -> b.isBefore(period.from()))
                                                .isEmpty())
                        .map(g -> new ReportView.ReportGap(
                                e.database().id(),
                                e.database().name(),
                                g.stream(),
                                g.after().orElse(null),
                                g.before().orElse(null),
                                g.bridged(),
                                g.cause().word())))
                .toList();
    }

    /** Versions in force at some moment of the period. */
    private static List<ReportView.ReportPolicy> policies(
            Evaluations.Fleetwide all, List<Evaluation> answers, Span period) {
        Set<String> followed = answers.stream()
                .flatMap(e -> all.fleet().fleet().changes(e.database()).stream()
                        .filter(at -> at.isBefore(period.to()))
                        .flatMap(at -> e.database().policyAt(at.isBefore(period.from()) ? period.from() : at).stream()))
                .collect(Collectors.toSet());
        List<ReportView.ReportPolicy> out = new ArrayList<>();
        for (String id : followed.stream().sorted().toList()) {
            List<PolicyVersion> versions = all.fleet().fleet().versions(id);
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

    private static List<ReportView.ReportChange> changes(
            Evaluations.Fleetwide all, List<Evaluation> answers, Span period) {
        List<ReportView.ReportChange> out = new ArrayList<>();
        for (Evaluation e : answers) {
            Database d = e.database();
            in(period, Optional.of(d.inServiceFrom()), d.name() + " came into service", out);
            in(period, d.particulars().retired(), d.name() + " was retired", out);
            d.assigned()
                    .forEach(a -> in(
                            period,
                            Optional.of(a.from()),
                            d.name()
                                    + a.policy()
                                            .map(p -> " was given policy "
                                                    + all.fleet()
                                                            .fleet()
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

    private static double seconds(Duration d) {
        return d.toMillis() / 1000.0;
    }
}
