package firth.core.findings;

import firth.core.evaluation.Contradiction;
import firth.core.evaluation.Contradiction.ForkBeyondParent;
import firth.core.evaluation.Contradiction.GoneBeforeLanded;
import firth.core.evaluation.Contradiction.LineageBeforeService;
import firth.core.evaluation.Contradiction.LogsOfTheSamePositions;
import firth.core.evaluation.Contradiction.ParentsInACircle;
import firth.core.evaluation.Contradiction.VersionsBeginTogether;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import java.util.List;
import java.util.Optional;

/** Records that cannot all be true, as something somebody must put right. */
final class ContradictionFindings {

    private ContradictionFindings() {}

    static List<Finding> of(Evaluation e) {
        return e.contradictions().stream().map(c -> of(e.database().id(), c)).toList();
    }

    private static Finding of(String database, Contradiction found) {
        if (found instanceof VersionsBeginTogether v) {
            return Finding.of(
                    "version-begins-twice",
                    Severity.CONTRADICTION,
                    database,
                    "policy:" + v.policy(),
                    Optional.of(v.since()),
                    "two versions begin at one moment",
                    "Versions " + v.replaced() + " and " + v.counts() + " of policy " + v.policy()
                            + " begin at the same moment: " + v.counts() + " counts.",
                    "Take one of them back, or let it begin later.",
                    List.of(v.policy()));
        }
        if (found instanceof LineageBeforeService l) {
            return of(
                    database,
                    l,
                    "lineage-before-service",
                    "Lineage " + l.lineage() + " opened before the database went into service.",
                    "Correct inServiceFrom or openedAt.",
                    List.of(database));
        }
        if (found instanceof ForkBeyondParent f) {
            return of(
                    database,
                    f,
                    "fork-beyond-parent",
                    "Lineage " + f.lineage() + " leaves lineage " + f.parent() + " at " + f.fork() + " in stream "
                            + f.stream() + ", but nothing known of that goes beyond " + f.furthest()
                            + ": no backup can carry over into it.",
                    "Correct forkPos, or import the logs that are missing.",
                    List.of(database));
        }
        if (found instanceof ParentsInACircle p) {
            return of(
                    database,
                    p,
                    "parents-in-a-circle",
                    "The backups " + String.join(", ", p.backups())
                            + " name each other as parents: none of them restores anything.",
                    "Correct their parents.",
                    p.backups());
        }
        if (found instanceof LogsOfTheSamePositions s) {
            return of(
                    database,
                    s,
                    "logs-of-the-same-positions",
                    "The logs " + s.one() + " and " + s.other() + " hold the same positions " + s.from() + " to "
                            + s.to() + " of one lineage, but of different times: they are of different histories.",
                    "Find out which of them belongs to the lineage; the other may be of one not entered yet.",
                    List.of(s.one(), s.other()));
        }
        GoneBeforeLanded g = (GoneBeforeLanded) found;
        return of(
                database,
                g,
                "gone-before-landed",
                "The copy of " + g.backup() + " in " + g.store() + " is gone since before it landed: it never counts.",
                "Correct landed or gone.",
                List.of(g.backup()));
    }

    private static Finding of(
            String database, Contradiction found, String code, String text, String action, List<String> facts) {
        return Finding.of(
                code,
                Severity.CONTRADICTION,
                database,
                database + "/" + String.join("/", facts),
                Optional.of(found.since()),
                "records contradict one another",
                text,
                action,
                facts);
    }
}
