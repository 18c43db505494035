package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.model.Drill;
import firth.core.model.PolicyVersion;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Restores that were to be proved and were not, and proofs that failed (docs/semantics.md, "Drills"). */
public final class DrillFindings {

    private DrillFindings() {}

    /** What is known of the drills of one database. */
    public record DrillStanding(
            Optional<Duration> every, Optional<Drill> proved, Optional<Drill> failed, Optional<Instant> due) {}

    /**
     * How it stands with drills at the moment of an evaluation.
     *
     * @param drills of its database, in any order; those that ended later are not known yet
     */
    public static DrillStanding standing(Evaluation e, Collection<Drill> drills) {
        List<Drill> known = drills.stream()
                .filter(d -> d.at().filter(at -> !at.isAfter(e.asOf())).isPresent())
                .sorted(Comparator.comparing((Drill d) -> d.at().orElseThrow()).thenComparing(Drill::id))
                .toList();
        Optional<Drill> proved = last(known, Drill::proves);
        Optional<Drill> failed = last(known, d -> d.ok().filter(ok -> !ok).isPresent())
                .filter(f -> proved.filter(p -> !at(p).isBefore(at(f))).isEmpty());
        Optional<PolicyVersion> version = e.version().filter(PolicyVersion::enabled);
        Optional<Duration> every = version.flatMap(v -> v.objective().drillEvery());
        Optional<Instant> due = every.map(d -> proved.map(DrillFindings::at)
                .orElseGet(() -> asked(e, version.orElseThrow()))
                .plus(d));
        return new DrillStanding(every, proved, failed, due);
    }

    /** When drills were first asked for of a database that never had one that proved anything. */
    private static Instant asked(Evaluation e, PolicyVersion version) {
        Instant served = e.database().inServiceFrom();
        return version.effectiveFrom().isAfter(served) ? version.effectiveFrom() : served;
    }

    private static Instant at(Drill d) {
        return d.at().orElseThrow();
    }

    private static Optional<Drill> last(List<Drill> known, java.util.function.Predicate<Drill> which) {
        return known.stream().filter(which).reduce((first, second) -> second);
    }

    public static List<Finding> of(Evaluation e, Collection<Drill> drills) {
        DrillStanding s = standing(e, drills);
        List<Finding> out = new ArrayList<>();
        String id = e.database().id();
        s.failed()
                .ifPresent(f -> out.add(Finding.of(
                        "drill-failed",
                        Severity.RULE_BROKEN,
                        id,
                        id,
                        f.at(),
                        new Detail.DrillFailed(f.backup(), f.message()),
                        List.of(f.id()))));
        s.due()
                .filter(d -> !d.isAfter(e.asOf()))
                .ifPresent(due -> out.add(Finding.of(
                        "drill-due",
                        Severity.UNPROVEN,
                        id,
                        id,
                        Optional.of(due),
                        new Detail.DrillDue(
                                s.proved().map(DrillFindings::at),
                                s.every().orElseThrow(),
                                unchecked(e, drills, s),
                                e.database().zone()),
                        List.of())));
        return out;
    }

    /** Whether one went well since, but nothing was checked after it. */
    private static boolean unchecked(Evaluation e, Collection<Drill> drills, DrillStanding s) {
        return drills.stream()
                .anyMatch(d -> d.ok().orElse(false)
                        && d.checks().isEmpty()
                        && d.at().filter(at -> !at.isAfter(e.asOf())
                                        && s.proved()
                                                .filter(p -> !at(p).isBefore(at))
                                                .isEmpty())
                                .isPresent());
    }
}
