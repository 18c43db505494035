package firth.wording;

import firth.core.evaluation.Contradiction;
import firth.core.evaluation.Contradiction.ForkBeyondParent;
import firth.core.evaluation.Contradiction.GoneBeforeLanded;
import firth.core.evaluation.Contradiction.LineageBeforeService;
import firth.core.evaluation.Contradiction.LineageGoesOn;
import firth.core.evaluation.Contradiction.LogsOfTheSamePositions;
import firth.core.evaluation.Contradiction.ParentsInACircle;
import firth.core.evaluation.Contradiction.VersionsBeginTogether;
import firth.core.findings.Detail;

/** Records that cannot all be true, in words. */
final class ContradictionWords {

    private ContradictionWords() {}

    static Said of(Detail.Contradicts d) {
        Contradiction found = d.found();
        if (found instanceof VersionsBeginTogether v) {
            return new Said(
                    "two versions begin at one moment",
                    "Versions " + v.replaced() + " and " + v.counts() + " of policy " + v.policy()
                            + " begin at the same moment: " + v.counts() + " counts.",
                    "Take one of them back, or let it begin later.");
        }
        if (found instanceof LineageBeforeService l) {
            return of(
                    "Lineage " + l.lineage() + " opened before the database went into service.",
                    "Correct inServiceFrom or openedAt.");
        }
        if (found instanceof ForkBeyondParent f) {
            return of(
                    "Lineage " + f.lineage() + " leaves lineage " + f.parent() + " at "
                            + PositionWords.written(d.engine(), f.fork()) + " in stream " + f.stream()
                            + ", but nothing known of that goes beyond "
                            + PositionWords.written(d.engine(), f.furthest()) + ": no backup can carry over into it.",
                    "Correct forkPos, or import the logs that are missing.");
        }
        if (found instanceof LineageGoesOn g) {
            return of(
                    "Lineage " + g.lineage() + " was written to after lineage " + g.next()
                            + " had opened, as the log " + g.log()
                            + " shows: two servers write under this name, and of the"
                            + " moments since then those of lineage " + g.next() + " alone count.",
                    "If lineage " + g.next()
                            + " is a clone, let it archive elsewhere, under a name of its own; if it took over, stop the old server.");
        }
        if (found instanceof ParentsInACircle p) {
            return of(
                    "The backups " + String.join(", ", p.backups())
                            + " name each other as parents: none of them restores anything.",
                    "Correct their parents.");
        }
        if (found instanceof LogsOfTheSamePositions s) {
            return of(
                    "The logs " + s.one() + " and " + s.other() + " hold the same positions "
                            + PositionWords.written(d.engine(), s.from()) + " to "
                            + PositionWords.written(d.engine(), s.to())
                            + " of one lineage, but of different times: they are of different histories.",
                    "Find out which of them belongs to the lineage; the other may be of one not entered yet.");
        }
        GoneBeforeLanded g = (GoneBeforeLanded) found;
        return of(
                "The copy of " + g.backup() + " in " + g.store() + " was deleted before it landed: it never counts.",
                "Correct landed or gone.");
    }

    private static Said of(String text, String action) {
        return new Said("records contradict one another", text, action);
    }
}
