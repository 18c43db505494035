package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Hold;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Locks and holds that end soon and with which something is lost (docs/semantics.md, "Findings"). */
public final class EndingFindings {

    /** What ends later is not spoken of yet. */
    public static final Duration AHEAD = Duration.ofDays(14);

    private final Evaluation e;
    private final History history;
    private final Instant horizon;

    private EndingFindings(Evaluation e) {
        this.e = e;
        this.history = e.history();
        this.horizon = e.asOf().plus(AHEAD);
    }

    static List<Finding> of(Evaluation e, DatabaseFacts facts) {
        EndingFindings findings = new EndingFindings(e);
        List<Finding> out = new ArrayList<>();
        findings.lastLock().ifPresent(out::add);
        facts.holds().forEach(h -> findings.hold(h, facts.holds()).ifPresent(out::add));
        return out;
    }

    /** Nothing is left to sabotage once the last lock over a data backup has ended. */
    private Optional<Finding> lastLock() {
        HazardEvaluation sabotage = e.under(Hazard.SABOTAGE);
        if (sabotage.objective().isEmpty()
                || sabotage.isMissed()
                || sabotage.recoveryPoint().isEmpty()) {
            return Optional.empty();
        }
        long last = 0;
        String backup = "";
        Retention retention = e.retention();
        for (int r = 0; r < retention.size(); r++) {
            int i = retention.backup(r);
            long until = history.lockedUntilMs(retention.copy(r));
            if (history.kind(i).isData() && retention.verdict(r) != Verdict.UNUSABLE && until > last) {
                last = until;
                backup = history.id(i);
            }
        }
        Instant ends = Instant.ofEpochMilli(last);
        if (!ends.isAfter(e.asOf()) || ends.isAfter(horizon)) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                        "last-lock-ends",
                        Severity.WILL_BREAK,
                        e.database().id(),
                        e.database().id(),
                        Optional.empty(),
                        new Detail.LastLockEnds(
                                backup, ends, sabotage.objective(), e.database().zone()),
                        List.of(backup))
                .breaking(ends));
    }

    /** What a hold alone keeps may be deleted once it ends. */
    private Optional<Finding> hold(Hold hold, List<Hold> all) {
        Optional<Instant> ends = hold.until().filter(u -> !u.isAfter(horizon));
        if (ends.isEmpty() || !hold.inForceAt(e.asOf())) {
            return Optional.empty();
        }
        Set<String> only = new LinkedHashSet<>();
        Retention retention = e.retention();
        for (int r = 0; r < retention.size(); r++) {
            String id = history.id(retention.backup(r));
            boolean alone = retention.reasons(r).stream().allMatch(Reason.HELD.word()::equals);
            boolean meant = mayKeep(hold, id)
                    && all.stream().noneMatch(other -> other.inForceAt(ends.get()) && mayKeep(other, id));
            if (retention.verdict(r) == Verdict.NEEDED && retention.has(r, Reason.HELD) && alone && meant) {
                only.add(id);
            }
        }
        if (only.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                        "hold-ends",
                        Severity.WILL_BREAK,
                        e.database().id(),
                        e.database().id() + "/" + hold.id(),
                        hold.from(),
                        new Detail.HoldEnds(
                                hold.reason(),
                                ends.get(),
                                List.copyOf(only),
                                hold.moment(),
                                e.database().zone()),
                        only.stream().limit(5).toList())
                .breaking(ends.get()));
    }

    private static boolean mayKeep(Hold hold, String backup) {
        return hold.backup().map(backup::equals).orElse(true);
    }
}
