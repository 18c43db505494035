package firth.core.findings;

import firth.core.model.Component;
import firth.core.model.Kind;
import firth.core.model.Probe.LogMode;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/** What is known of one line of a database's readiness, as values (docs/semantics.md, "Readiness"). */
public sealed interface CheckDetail {

    /** Nobody has said anything of it. */
    record Unsaid() implements CheckDetail {}

    /** @param store the name of the one nobody has tried to write to */
    record Untried(String store) implements CheckDetail {}

    /**
     * @param asked whether the policy in force asks for logs
     * @param downtime when the database stands still next; empty where nobody has said
     */
    record Archiving(LogMode mode, boolean asked, Optional<Instant> downtime, ZoneId zone) implements CheckDetail {}

    /**
     * @param lacking the rights the backup account needs and has not
     * @param beyond those it has and does not need
     */
    record AccountRights(List<String> lacking, List<String> beyond) implements CheckDetail {
        public AccountRights {
            lacking = List.copyOf(lacking);
            beyond = List.copyOf(beyond);
        }
    }

    record EngineProcesses(List<String> up, List<String> down) implements CheckDetail {
        public EngineProcesses {
            up = List.copyOf(up);
            down = List.copyOf(down);
        }
    }

    record HostScheduler(boolean on) implements CheckDetail {}

    record ClientVersion(String client, String server, boolean fits) implements CheckDetail {}

    record NoRoute() implements CheckDetail {}

    /** What became of writing to a store. */
    enum Attempted {
        NOT_REACHED,
        REFUSED,
        TOO_SMALL,
        ONLY_REACHED,
        WRITTEN
    }

    /**
     * @param store its name
     * @param message what it said, where it was not reached or refused
     * @param free the bytes free there
     * @param needed the bytes the next full needs, where there are fewer
     */
    record StoreTried(
            String store, Attempted writing, Optional<String> message, OptionalDouble free, OptionalDouble needed)
            implements CheckDetail {}

    /** A store runs on the database's own host. */
    record SharesHost(String store, String host) implements CheckDetail {}

    /** Every store of the route lies at the database's own site. */
    record SharesSite() implements CheckDetail {}

    /** A store stands elsewhere; on which hosts all of them run is not known. */
    record HostsUnknown() implements CheckDetail {}

    /** No store shares the host, and one stands elsewhere. */
    record KeptApart() implements CheckDetail {}

    /**
     * @param perHour the bytes by which the log disk fills in an hour; empty where it does not
     * @param left how long it lasts with nothing archived; empty where it does not fill
     * @param enough whether that is long enough
     */
    record LogDiskRoom(double free, OptionalDouble perHour, Optional<Duration> left, boolean enough)
            implements CheckDetail {}

    record Succeeded(Kind kind, boolean byHand) implements CheckDetail {}

    record NeverSucceeded() implements CheckDetail {}

    /**
     * Another name than the one a database is enrolled by.
     *
     * @param side who calls it so
     * @param hardly whether it hardly differs
     */
    record OtherName(String side, String name, boolean hardly) {}

    /**
     * @param found what it consists of
     * @param unstated what of that nobody stated, though other parts were
     * @param missing what was stated and is not there
     * @param stated whether any part was
     */
    record ConsistsOf(List<Component> found, List<String> unstated, List<String> missing, boolean stated)
            implements CheckDetail {
        public ConsistsOf {
            found = List.copyOf(found);
            unstated = List.copyOf(unstated);
            missing = List.copyOf(missing);
        }
    }

    /** @param sides who was asked, in order */
    record CalledBy(String name, List<String> sides, List<OtherName> others) implements CheckDetail {
        public CalledBy {
            sides = List.copyOf(sides);
            others = List.copyOf(others);
        }
    }
}
