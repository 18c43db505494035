package firth.core.findings;

import firth.core.cover.Gap;
import firth.core.evaluation.Contradiction;
import firth.core.forecast.Comparison;
import firth.core.model.Demands.Demand;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.stocktake.Difference;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/**
 * What a finding is about, as values: everything a sentence about it needs. Zones are those in which moments are told, that of the
 * database.
 */
public sealed interface Detail {

    /** The runs that failed and are to blame; empty where none are. */
    default Optional<Failing> failing() {
        return Optional.empty();
    }

    /**
     * Logs that are missing.
     *
     * @param severalStreams whether the database has more streams than the gap's
     */
    record MissingLogs(Gap gap, boolean severalStreams, Optional<String> engine) {}

    // What can be restored.

    /** Nothing can be restored. */
    record NothingRestorable(Optional<Failing> failing, ZoneId zone) implements Detail {}

    /** @param policy the name of the one that asks for backups; empty where none does */
    record NeverBackedUp(Optional<String> policy) implements Detail {}

    /**
     * More would be lost to a mishap than is promised.
     *
     * @param logs the gap after which nothing newer can be restored
     * @param failing the runs that failed since; told where no gap is to blame
     */
    record TooOld(
            Duration age,
            Instant point,
            Duration objective,
            Optional<MissingLogs> logs,
            Optional<Failing> failing,
            ZoneId zone)
            implements Detail {}

    /** The newest logs restore nothing, though the age is within what is promised. */
    record NewestLogsUseless(MissingLogs logs, ZoneId zone) implements Detail {}

    /** @param oldest from when on everything can be restored; empty where nothing can */
    record ReachShort(Duration achieved, Optional<Duration> promised, Optional<Instant> oldest, ZoneId zone)
            implements Detail {}

    /** @param leaves when the hole leaves reach; empty where it stays as far as can be foreseen */
    record HoleInReach(Instant from, Instant to, Optional<MissingLogs> logs, Optional<Instant> leaves, ZoneId zone)
            implements Detail {}

    /** More would be lost to a hazard than is promised, though not to a mishap. */
    record HazardMissed(Hazard hazard, Duration age, Optional<Instant> point, Optional<Duration> objective, ZoneId zone)
            implements Detail {}

    // Copies.

    record NoPolicy() implements Detail {}

    /** Copies that no retain rule speaks of. */
    record NoRule(int copies, double bytes, List<String> stores) implements Detail {
        public NoRule {
            stores = List.copyOf(stores);
        }
    }

    /** @param oldest when the oldest of the backups ended */
    record CopiesLacking(int backups, Instant oldest, ZoneId zone) implements Detail {}

    /** @param alternate whether the stores are alternates of the route, not none of its at all */
    record OffRoute(boolean alternate, Kind kind, List<String> stores) implements Detail {
        public OffRoute {
            stores = List.copyOf(stores);
        }
    }

    /**
     * @param lost the backups of which nothing is left at the path
     * @param run that wrote it last
     */
    record Overwritten(Kind kind, String last, List<String> lost, String path, String store, Optional<String> run)
            implements Detail {
        public Overwritten {
            lost = List.copyOf(lost);
        }
    }

    /** The last lock over a data backup ends, and with it what is left after sabotage. */
    record LastLockEnds(String backup, Instant ends, Optional<Duration> objective, ZoneId zone) implements Detail {}

    /**
     * A hold ends that alone keeps something.
     *
     * @param moment the one it was placed for
     */
    record HoldEnds(String reason, Instant ends, List<String> backups, Optional<Instant> moment, ZoneId zone)
            implements Detail {
        public HoldEnds {
            backups = List.copyOf(backups);
        }
    }

    // Schedules and runs.

    /**
     * A slot that came to nothing.
     *
     * @param failed whether it was tried
     * @param inARow how many slots up to it did
     */
    record SlotNotKept(
            Kind kind, boolean failed, Instant open, Instant close, int inARow, Optional<Failing> failing, ZoneId zone)
            implements Detail {}

    /** How a slot that was kept was not kept well. */
    enum Cost {
        LATE,
        OVERRAN,
        SPILLED
    }

    /** @param spill how long it ran outside open hours */
    record SlotCost(Kind kind, Cost cost, Duration spill, Instant open, Instant close, Duration took, ZoneId zone)
            implements Detail {}

    record LogsNotTaken(Instant since, long missed, ZoneId zone) implements Detail {}

    record BroughtNothing(Kind kind, Instant ended, ZoneId zone) implements Detail {}

    // What backups should be.

    record NotAsDemanded(Demand demand, List<Kind> kinds, List<String> backups, String policy) implements Detail {
        public NotAsDemanded {
            kinds = List.copyOf(kinds);
            backups = List.copyOf(backups);
        }
    }

    record Unverified(Duration within, List<Kind> kinds, List<String> backups) implements Detail {
        public Unverified {
            kinds = List.copyOf(kinds);
            backups = List.copyOf(backups);
        }
    }

    // How backups are taken.

    /**
     * @param ended when the backup ended that one was to follow
     * @param newest from when the newest of the kind that was to follow is; empty where there is none
     */
    record NotFollowed(Kind after, Instant ended, Kind take, Optional<Instant> newest, Duration within, ZoneId zone)
            implements Detail {}

    /**
     * A run that began before its turn.
     *
     * @param open when the slot opened of the kind that goes before it
     */
    record OutOfOrder(Kind kind, Instant started, Kind before, Instant open, ZoneId zone) implements Detail {}

    /**
     * @param rate how many bytes a second it wrote from one moment until another
     * @param most how many it was allowed in that time
     */
    record TooFast(Kind kind, Instant from, Instant to, double rate, double most, Optional<String> store, ZoneId zone)
            implements Detail {}

    /**
     * Logs were deleted at their source too early.
     *
     * @param copies in how many stores each is to have arrived first
     * @param untaken whether some were never taken at all
     * @param since from when the first of those is that have not; empty where all that were taken have
     * @param found when that was found out
     */
    record SourceLogsGone(int copies, boolean untaken, Optional<Instant> since, Instant found, ZoneId zone)
            implements Detail {}

    record ComponentsNowhere(List<String> names) implements Detail {
        public ComponentsNowhere {
            names = List.copyOf(names);
        }
    }

    record DrillFailed(Optional<String> backup, String message) implements Detail {}

    /**
     * @param proved when it was last proved that the database can be restored; empty where it never was
     * @param unchecked whether a later drill went well, but nothing was checked after it
     */
    record DrillDue(Optional<Instant> proved, Duration every, boolean unchecked, ZoneId zone) implements Detail {}

    /** @param size whether it is about the size in bytes, else about the duration in milliseconds */
    record Unusual(boolean size, Kind kind, Comparison figures) implements Detail {}

    // Records and rules.

    /** @param engine the database's, whose way of writing positions is used */
    record Contradicts(Contradiction found, Optional<String> engine) implements Detail {}

    /** @param policy its name */
    record PolicyContradicts(String policy, PolicyFlaw flaw) implements Detail {}

    // Hosts, runners and sources.

    /** @param full when a log disk that fills is full, where logs are no longer taken away */
    record NotReady(Check check, Optional<Instant> full, ZoneId zone) implements Detail {}

    /** @param next which of its databases breaks a promise first if nothing is told of it */
    record RunnerSilent(String host, Instant heard, Optional<FactFindings.Breaks> next, ZoneId zone)
            implements Detail {}

    record VersionNotReached(String host, String policy, int version) implements Detail {}

    /**
     * @param identity what the server there calls itself
     * @param enrolled what the one that was enrolled calls itself
     */
    record AnotherServer(String host, String identity, String enrolled) implements Detail {}

    /**
     * @param lineage the one the server writes to
     * @param known those that are known of the database
     */
    record AnotherLineage(String host, String lineage, List<String> known) implements Detail {}

    record FactsStale(String source, Duration age) implements Detail {}

    // Stores.

    /** @param seen when the files were last seen there; empty where they never were */
    record DeletedUnasked(String store, Optional<Instant> seen, Instant found, List<String> backups) implements Detail {
        public DeletedUnasked {
            backups = List.copyOf(backups);
        }
    }

    record StockDiffers(String store, Difference.Manner manner, List<String> backups, String told) implements Detail {
        public StockDiffers {
            backups = List.copyOf(backups);
        }
    }

    record AgentBelied(String store, String agent, Instant told, Instant listed, List<String> backups)
            implements Detail {
        public AgentBelied {
            backups = List.copyOf(backups);
        }
    }

    /** @param always whether purging what no rule needs is not enough */
    record StoreFills(String store, double capacity, double held, double obsolete, boolean always) implements Detail {}

    /**
     * @param least how well a policy demands that backups be known
     * @param known how well the least known of these is
     */
    record LittleKnown(Evidence least, Evidence known, List<Kind> kinds, List<String> backups, String policy)
            implements Detail {
        public LittleKnown {
            kinds = List.copyOf(kinds);
            backups = List.copyOf(backups);
        }
    }

    /** @param trouble what the store said */
    record StoreRefuses(String store, String trouble) implements Detail {}

    // Firth itself.

    /**
     * Somebody said of a known record that it is of another database, kind or lineage.
     *
     * @param taken whether it counts as it was said
     * @param record with its type, the first of those of this cause
     * @param field in which it differs
     * @param records how many there are
     */
    record RecordTurned(String who, boolean taken, String record, String field, String known, String said, int records)
            implements Detail {}

    /**
     * @param age of the newest copy of Firth's own facts; empty where there is none
     * @param trouble what went wrong the last time; empty where nothing did
     */
    record OwnFactsNotCopied(Optional<Duration> age, Duration every, String trouble, String directory)
            implements Detail {}

    /**
     * @param title of the last message that did not arrive
     * @param told what became of it
     */
    record NotDelivered(String list, int messages, String title, String told) implements Detail {}

    /**
     * @param waiting how long ago facts changed that no sheet was written of since
     * @param trouble what went wrong the last time; empty where nothing did
     */
    record SheetsStale(Duration waiting, String trouble, String directory) implements Detail {}
}
