package firth.core.model;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Where a database's data backups, logs and copies go, as ids of stores.
 *
 * @param data for data backups; the first that takes them, the others are alternates in order
 * @param log for logs, likewise
 * @param copies where each backup is copied to, all of them
 * @param retired since when it is offered to nothing new
 */
public record Route(
        String id, String name, List<String> data, List<String> log, List<String> copies, Optional<Instant> retired)
        implements FleetRecord {

    public Route {
        data = List.copyOf(data);
        log = List.copyOf(log);
        copies = List.copyOf(copies);
    }

    /** One that is in use. */
    public Route(String id, String name, List<String> data, List<String> log, List<String> copies) {
        this(id, name, data, log, copies, Optional.empty());
    }

    /** The stores it names anywhere. */
    public Set<String> stores() {
        Set<String> out = new LinkedHashSet<>(data);
        out.addAll(log);
        out.addAll(copies);
        return out;
    }

    /** Where a data backup lies when nothing is amiss: the first choice and every copy. */
    public Set<String> dataStores() {
        return first(data);
    }

    /** Where a log lies when nothing is amiss. */
    public Set<String> logStores() {
        return first(log.isEmpty() ? data : log);
    }

    private Set<String> first(List<String> choices) {
        List<String> out = new ArrayList<>(choices.subList(0, Math.min(1, choices.size())));
        out.addAll(copies);
        return new LinkedHashSet<>(out);
    }
}
