package firth.core.model;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

/**
 * What was found out, at a moment, about whether a database is fit to be backed up. Whatever is absent or empty was not
 * looked at.
 *
 * @param source who looked
 * @param processes the engine's processes that backups need, and whether each is up
 * @param scheduler whether what starts its backups is switched on
 * @param client the version of what takes its backups
 * @param server the version of the engine
 * @param destinations one per store that was tried
 * @param names what it is called, by the side that calls it so
 * @param components what it consists of, by the engine's own word
 * @param logsFrom by stream, the position from which on its own logs are still there
 */
public record Probe(
        String id,
        String database,
        String source,
        Instant at,
        Optional<LogMode> logs,
        Optional<Rights> rights,
        Map<String, Boolean> processes,
        Optional<Boolean> scheduler,
        Optional<String> client,
        Optional<String> server,
        List<Destination> destinations,
        Optional<LogDisk> logDisk,
        Map<String, String> names,
        List<Component> components,
        Map<String, Long> logsFrom)
        implements Observed {

    /** Whether the engine archives its logs. */
    public enum LogMode {
        ON,
        OFF,
        /** Switched on, and not in force before the engine starts anew. */
        WAITING_FOR_RESTART
    }

    /** What the account that takes the backups may do, and what it has to. */
    public record Rights(Set<String> held, Set<String> needed) {
        public Rights {
            held = Set.copyOf(held);
            needed = Set.copyOf(needed);
        }
    }

    /**
     * A store as it looked from the database's host.
     *
     * @param written whether something was really written there
     * @param message what the store said where it was not
     * @param freeBytes room for this database, 0 or more
     * @param host the machine the store runs on
     */
    public record Destination(
            String store,
            Optional<Boolean> reached,
            Optional<Boolean> written,
            Optional<String> message,
            OptionalDouble freeBytes,
            Optional<String> host) {}

    /**
     * The disk the engine writes its logs to.
     *
     * @param freeBytes 0 or more
     * @param fillBytesPerSecond how fast it would fill were nothing taken from it; above 0
     */
    public record LogDisk(double freeBytes, OptionalDouble fillBytesPerSecond) {}

    public Probe {
        processes = Map.copyOf(processes);
        destinations = List.copyOf(destinations);
        names = Map.copyOf(names);
        components = List.copyOf(components);
        logsFrom = Map.copyOf(logsFrom);
    }

    @Override
    public boolean isJudgedBy() {
        return false;
    }
}
