package firth.server.evaluation;

import firth.core.findings.Finding;
import firth.core.findings.Followers;
import firth.core.findings.SourceLogsLeft;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What of a database's answer it takes to say what is wrong with the fleet: small enough to be kept of every database.
 *
 * @param version the policy version in force
 * @param findings what is wrong with the database by itself, in order
 * @param habits how its backups go, as the rules of its policy see it
 * @param breaks when the age first passes what is promised if nothing more lands; empty where it has, or does not grow
 * @param sourceLogs what must still be at the source of its logs; empty where nothing is asked
 * @param ended the runs that ended in the last hour before the answer
 */
public record Condition(
        Database database,
        Optional<PolicyVersion> version,
        List<Finding> findings,
        Followers habits,
        Optional<Instant> breaks,
        Optional<SourceLogsLeft> sourceLogs,
        List<Run> ended) {}
