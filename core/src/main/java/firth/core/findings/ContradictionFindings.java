package firth.core.findings;

import firth.core.evaluation.Contradiction;
import firth.core.evaluation.Contradiction.ForkBeyondParent;
import firth.core.evaluation.Contradiction.GoneBeforeLanded;
import firth.core.evaluation.Contradiction.LineageBeforeService;
import firth.core.evaluation.Contradiction.LineageGoesOn;
import firth.core.evaluation.Contradiction.LogsOfTheSamePositions;
import firth.core.evaluation.Contradiction.ParentsInACircle;
import firth.core.evaluation.Contradiction.VersionsBeginTogether;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.model.Database;
import java.util.List;
import java.util.Optional;

/** Records that cannot all be true, as something somebody must put right. */
final class ContradictionFindings {

    private ContradictionFindings() {}

    static List<Finding> of(Evaluation e) {
        return e.contradictions().stream().map(c -> of(e.database(), c)).toList();
    }

    private static Finding of(Database database, Contradiction found) {
        if (found instanceof VersionsBeginTogether v) {
            return of("version-begins-twice", database, found, "policy:" + v.policy(), List.of(v.policy()));
        }
        if (found instanceof LineageBeforeService) {
            return of("lineage-before-service", database, found, List.of(database.id()));
        }
        if (found instanceof ForkBeyondParent) {
            return of("fork-beyond-parent", database, found, List.of(database.id()));
        }
        if (found instanceof LineageGoesOn g) {
            return of("lineage-goes-on", database, found, List.of(g.log()));
        }
        if (found instanceof ParentsInACircle p) {
            return of("parents-in-a-circle", database, found, p.backups());
        }
        if (found instanceof LogsOfTheSamePositions s) {
            return of("logs-of-the-same-positions", database, found, List.of(s.one(), s.other()));
        }
        return of("gone-before-landed", database, found, List.of(((GoneBeforeLanded) found).backup()));
    }

    private static Finding of(String code, Database database, Contradiction found, List<String> facts) {
        return of(code, database, found, database.id() + "/" + String.join("/", facts), facts);
    }

    private static Finding of(String code, Database database, Contradiction found, String about, List<String> facts) {
        return Finding.of(
                code,
                Severity.CONTRADICTION,
                database.id(),
                about,
                Optional.of(found.since()),
                new Detail.Contradicts(found, database.engine()),
                facts);
    }
}
