package firth.server.reports;

import firth.core.adherence.SlotVerdict;
import firth.core.cover.Gap;
import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.evaluation.Reach;
import firth.core.findings.DrillFindings;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.restore.Footing;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.core.retention.Reason;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.server.cover.Cover;
import firth.server.cover.CoverRows;
import firth.server.database.AgeSlices;
import firth.server.evaluation.Answered;
import firth.wording.Wording;
import firth.wording.explain.BreachCause;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * What a report tells of one database: without its history.
 *
 * @param onboards whether it is still being onboarded
 */
record ReportFigures(
        Database database,
        boolean onboards,
        ReportView.ReportRow row,
        List<ReportView.ReportBreach> breaches,
        List<ReportView.ReportGap> gaps) {

    /** So many slices of ages are drawn of a period. */
    private static final int AGES = 180;

    /** How it stood at the end of the period. */
    record AtEnd(
            Optional<PolicyVersion> version,
            String grade,
            Reach reach,
            Optional<Way> way,
            Optional<Footing> footing,
            DrillFindings.DrillStanding drills,
            int obsolete,
            double obsoleteBytes,
            int pending,
            List<Cover.Water> water) {

        static AtEnd of(Answered one, CoverRows rows) {
            Evaluation end = one.answer();
            Optional<PolicyVersion> version = end.version().filter(PolicyVersion::enabled);
            DrillFindings.DrillStanding drills =
                    DrillFindings.standing(end, one.now().drills(one.id()));
            Optional<Way> way = new Planning(one.facts(), one.fleet(), end.asOf(), Hazard.MISHAP, Losses.NONE)
                    .latest().ways().stream().findFirst();
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
            return new AtEnd(
                    version,
                    Wording.grade(end),
                    end.reach(),
                    way.filter(Way::timeKnown),
                    way.map(w -> Footing.of(w, end.history())),
                    drills,
                    obsolete,
                    bytes,
                    pending.size(),
                    rows.row(end).water());
        }
    }

    /** How it did in the period before, by hazard. */
    static Map<Hazard, ReportView.Before> before(Evaluation e) {
        Map<Hazard, ReportView.Before> out = new EnumMap<>(Hazard.class);
        for (Hazard hazard : Hazard.values()) {
            HazardEvaluation b = e.under(hazard);
            out.put(
                    hazard,
                    new ReportView.Before(
                            b.achieved().max() / 1000,
                            b.achieved().attainment().orElse(null),
                            b.breaches().size()));
        }
        return out;
    }

    static ReportFigures of(Answered one, AtEnd end, Map<Hazard, ReportView.Before> before, Span period) {
        Evaluation e = one.answer();
        return new ReportFigures(
                e.database(), e.onboarding().lasts(), row(e, end, before), breaches(e), gaps(e, period));
    }

    private static ReportView.ReportRow row(Evaluation e, AtEnd end, Map<Hazard, ReportView.Before> before) {
        Map<SlotVerdict, Long> slots =
                e.slots().stream().collect(Collectors.groupingBy(s -> s.verdict(), Collectors.counting()));
        Function<SlotVerdict, Integer> of = v -> slots.getOrDefault(v, 0L).intValue();
        return new ReportView.ReportRow(
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                end.version().map(v -> v.name() + ", version " + v.version()).orElse(null),
                end.grade(),
                Optional.of(Wording.grade(e))
                        .filter(today -> !today.equals(end.grade()))
                        .orElse(null),
                onboardingUntil(e).orElse(null),
                Arrays.stream(Hazard.values())
                        .map(h -> kept(h, e, Objects.requireNonNull(before.get(h))))
                        .toList(),
                end.reach().target().map(ReportFigures::seconds).orElse(null),
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
                end.version()
                        .flatMap(v -> v.objective().restoreTime())
                        .map(ReportFigures::seconds)
                        .orElse(null),
                end.way().map(w -> seconds(w.time())).orElse(null),
                end.footing().map(f -> f.weakest().word()).orElse(null),
                end.drills().proved().flatMap(d -> d.at()).orElse(null),
                end.drills().due().orElse(null),
                end.obsolete(),
                end.obsoleteBytes(),
                end.version()
                        .map(PolicyVersion::copies)
                        .flatMap(ReportFigures::rule)
                        .orElse(null),
                end.pending(),
                end.water(),
                AgeSlices.of(e.mishap(), AGES));
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

    private static ReportView.Kept kept(Hazard hazard, Evaluation e, ReportView.Before before) {
        HazardEvaluation h = e.under(hazard);
        return new ReportView.Kept(
                hazard.field(),
                h.objective().map(ReportFigures::seconds).orElse(null),
                h.achieved().max() / 1000,
                h.achieved().p50() / 1000,
                h.achieved().p95() / 1000,
                h.achieved().p99() / 1000,
                h.achieved().attainment().orElse(null),
                h.breaches().size(),
                before);
    }

    private static List<ReportView.ReportBreach> breaches(Evaluation e) {
        List<ReportView.ReportBreach> out = new ArrayList<>();
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
        return out;
    }

    private static List<ReportView.ReportGap> gaps(Evaluation e, Span period) {
        return e.gaps().stream()
                .filter(g -> g.after().filter(a -> !a.isBefore(period.to())).isEmpty()
                        && g.before().filter(b -> b.isBefore(period.from())).isEmpty())
                .map(g -> new ReportView.ReportGap(
                        e.database().id(),
                        e.database().name(),
                        g.stream(),
                        g.after().orElse(null),
                        g.before().orElse(null),
                        g.bridged(),
                        g.cause().word()))
                .toList();
    }

    private static double seconds(Duration d) {
        return d.toMillis() / 1000.0;
    }
}
