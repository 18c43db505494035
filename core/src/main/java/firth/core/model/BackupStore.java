package firth.core.model;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A place that holds backups.
 *
 * @param site the site it stands at; without one it never survives the loss of a site
 * @param medium what the copies lie on, for instance {@code disk} or {@code tape}
 * @param role what policies retain there; a copy in a store without a role falls under no rule
 * @param readBytesPerSecond how fast copies are read from it, above 0; without it no time of a restore is stated
 * @param lockable whether it can keep a copy from being deleted until a moment
 * @param givesWay what gives way when it is short of room
 * @param minimumStay how long a copy stays at the least, since deleting it earlier costs money
 * @param retired since when no route takes it up; what lies there is judged as before
 */
public record BackupStore(
        String id,
        String name,
        Optional<String> site,
        Optional<String> medium,
        Optional<Role> role,
        OptionalDouble capacityBytes,
        OptionalDouble readBytesPerSecond,
        boolean lockable,
        GivesWay givesWay,
        Optional<Duration> minimumStay,
        Optional<Instant> retired)
        implements FleetRecord {

    @Override
    public String type() {
        return "store";
    }

    /** One where nothing gives way. */
    public BackupStore(
            String id,
            String name,
            Optional<String> site,
            Optional<String> medium,
            Optional<Role> role,
            OptionalDouble capacityBytes,
            OptionalDouble readBytesPerSecond,
            boolean lockable) {
        this(
                id,
                name,
                site,
                medium,
                role,
                capacityBytes,
                readBytesPerSecond,
                lockable,
                GivesWay.REFUSE_NEW,
                Optional.empty(),
                Optional.empty());
    }

    /** One that locks nothing. */
    public BackupStore(
            String id,
            String name,
            Optional<String> site,
            Optional<String> medium,
            Optional<Role> role,
            OptionalDouble capacityBytes,
            OptionalDouble readBytesPerSecond) {
        this(id, name, site, medium, role, capacityBytes, readBytesPerSecond, false);
    }
}
