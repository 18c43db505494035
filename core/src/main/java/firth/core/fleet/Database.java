package firth.core.fleet;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A database Firth looks after.
 *
 * @param policy the policy it always follows; not looked at when there are dated assignments
 * @param streams its log streams, at least one
 * @param lineages its log histories in the order they opened, at least one
 * @param replayBytesPerSecond how fast it applies logs when it is restored, above 0
 * @param stopped when it was stopped on purpose; its age does not grow meanwhile
 */
public record Database(
        String id,
        String name,
        Optional<String> engine,
        Optional<String> site,
        ZoneId zone,
        Optional<String> policy,
        List<Assignment> assigned,
        Instant inServiceFrom,
        List<String> streams,
        OptionalDouble sizeBytes,
        OptionalDouble replayBytesPerSecond,
        List<Stop> stopped,
        List<Lineage> lineages)
        implements FleetRecord {

    public static final String DEFAULT_STREAM = "main";

    public Database {
        assigned = List.copyOf(assigned);
        streams = List.copyOf(streams);
        stopped = List.copyOf(stopped);
        lineages = List.copyOf(lineages);
        if (streams.isEmpty() || lineages.isEmpty()) {
            throw new IllegalArgumentException("a database has at least one stream and one lineage");
        }
    }

    /** A stretch in which the database was stopped; without {@code to} it still is. */
    public record Stop(Instant from, Optional<Instant> to) {}

    /** The policy assigned at a moment (docs/semantics.md, "Objects"). */
    public Optional<String> policyAt(Instant moment) {
        if (assigned.isEmpty()) {
            return policy;
        }
        Assignment latest = null;
        for (Assignment a : assigned) {
            if (!a.from().isAfter(moment) && (latest == null || !a.from().isBefore(latest.from()))) {
                latest = a;
            }
        }
        return latest == null ? Optional.empty() : latest.policy();
    }
}
