package firth.core.model;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What is known of a database beside what its backups are judged by.
 *
 * @param identity what the engine itself calls it, whatever its name
 * @param host the machine it runs on
 * @param system what it is part of with others
 * @param owner who answers for its content
 * @param labels words by which databases are picked
 * @param standbyOf the database it follows, whose backups its own count for
 * @param route where its backups go
 * @param retired from when on it is no longer looked after; its history stays
 * @param components its parts that can be restored by themselves; none where nobody said
 */
public record Particulars(
        Optional<String> identity,
        Optional<String> host,
        Optional<String> system,
        Optional<String> owner,
        Map<String, String> labels,
        Optional<String> standbyOf,
        Optional<String> route,
        Optional<Instant> retired,
        List<Component> components) {

    public static final Particulars NONE = new Particulars(
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Map.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            List.of());

    public Particulars {
        labels = Map.copyOf(labels);
        components = List.copyOf(components);
    }

    Particulars routed(String other) {
        return new Particulars(
                identity, host, system, owner, labels, standbyOf, Optional.of(other), retired, components);
    }
}
