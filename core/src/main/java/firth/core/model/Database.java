package firth.core.model;

import firth.core.time.RunningTime;
import firth.core.time.Spans;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
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
 * @param particulars what its backups are not judged by
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
        List<Lineage> lineages,
        Particulars particulars)
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

    /** One of which nothing else is known. */
    public Database(
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
            List<Lineage> lineages) {
        this(
                id,
                name,
                engine,
                site,
                zone,
                policy,
                assigned,
                inServiceFrom,
                streams,
                sizeBytes,
                replayBytesPerSecond,
                stopped,
                lineages,
                Particulars.NONE);
    }

    /** A stretch in which the database was stopped; without {@code to} it still is. */
    public record Stop(Instant from, Optional<Instant> to) {}

    /**
     * The same database with what was stated of its policy and route apart from it. What always applied applies from its
     * in-service moment until the first such statement; of two for one moment the later in the list counts.
     */
    public Database assigned(List<Assigned> stated) {
        if (stated.isEmpty()) {
            return this;
        }
        List<Assignment> all = new ArrayList<>(assigned);
        if (assigned.isEmpty() && policy.isPresent()) {
            all.add(new Assignment(policy, inServiceFrom));
        }
        Particulars known = particulars;
        for (Assigned a :
                stated.stream().sorted(Comparator.comparing(Assigned::from)).toList()) {
            all.add(new Assignment(a.policy(), a.from()));
            known = a.route().map(known::routed).orElse(known);
        }
        return with(policy, all, known);
    }

    private Database with(Optional<String> always, List<Assignment> dated, Particulars known) {
        return new Database(
                id,
                name,
                engine,
                site,
                zone,
                always,
                dated,
                inServiceFrom,
                streams,
                sizeBytes,
                replayBytesPerSecond,
                stopped,
                lineages,
                known);
    }

    /** Whether it is no longer looked after at a moment. */
    /** Whether it is in service: from its in-service moment on until it is retired. */
    public boolean isServedAt(Instant moment) {
        return !inServiceFrom.isAfter(moment) && !retiredAt(moment);
    }

    public boolean retiredAt(Instant moment) {
        return particulars.retired().filter(r -> !r.isAfter(moment)).isPresent();
    }

    /** The same database as if it had always followed one policy. */
    public Database following(String other) {
        return with(Optional.of(other), List.of(), particulars);
    }

    /** Its own clock, which stands still while it is stopped. */
    public RunningTime clock() {
        Spans out = Spans.NONE;
        for (Stop stop : stopped) {
            long to = stop.to().map(Instant::toEpochMilli).orElse(Spans.FOREVER);
            out = out.or(Spans.of(stop.from().toEpochMilli(), to));
        }
        return new RunningTime(out);
    }

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
