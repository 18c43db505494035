package firth.core.evaluation;

import java.time.Instant;
import java.util.List;

/** Records of a database, or of its policies, that cannot all be true (docs/semantics.md, "Records that contradict one another"). */
public sealed interface Contradiction {

    /** From when on they do. */
    Instant since();

    /**
     * Two versions of a policy that begin at one moment.
     *
     * @param replaced the number of the one that does not count
     * @param counts the number of the one that does
     */
    record VersionsBeginTogether(String policy, int replaced, int counts, Instant since) implements Contradiction {}

    /** A lineage that opened before the database went into service. */
    record LineageBeforeService(String lineage, Instant since) implements Contradiction {}

    /**
     * A lineage that leaves its parent beyond everything known of it.
     *
     * @param fork the position in a stream at which it leaves
     * @param furthest the furthest position of the parent known there
     */
    record ForkBeyondParent(String lineage, String parent, String stream, long fork, long furthest, Instant since)
            implements Contradiction {}

    /**
     * A lineage that was written to after the next one had opened.
     *
     * @param log the last of its logs that begins after that
     * @param next the lineage in force since then
     */
    record LineageGoesOn(String lineage, String next, String log, Instant since) implements Contradiction {}

    /** Backups that name each other as parents. */
    record ParentsInACircle(List<String> backups, Instant since) implements Contradiction {
        public ParentsInACircle {
            backups = List.copyOf(backups);
        }
    }

    /** Two logs of the same positions, from one up to another, that hold different times. */
    record LogsOfTheSamePositions(String one, String other, long from, long to, Instant since)
            implements Contradiction {}

    /** A copy of a backup that was deleted before it landed. */
    record GoneBeforeLanded(String backup, String store, Instant since) implements Contradiction {}
}
