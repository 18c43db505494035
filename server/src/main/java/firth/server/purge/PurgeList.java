package firth.server.purge;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * A list of copies to be deleted, and how far it has come.
 *
 * @param now what would drop out if it were handed out at this moment, a line a reason
 * @param may what the one who asks may do with it: approve, carry-out, pause, cancel, tell
 * @param trouble why it stands still; empty where it does not
 * @param tallies how many items are in each state
 * @param freed what agents measured was freed; null before any told
 * @param groups its items, a line a database, store and kind; the first of them
 * @param lines how many there are
 * @param deed the entry of the record in which it was asked for
 * @param after cover before and after, once all of it was carried out
 */
public record PurgeList(
        String id,
        @Schema(nullable = true) @Nullable String store,
        String storeName,
        String state,
        String askedBy,
        Instant askedAt,
        String reason,
        int approvalsNeeded,
        List<Approval> approvals,
        String hash,
        boolean whole,
        String trouble,
        List<PurgeView.ProofView> proofs,
        List<Changed> now,
        List<String> may,
        List<ItemTally> tallies,
        double asked,
        @Schema(nullable = true) @Nullable Double freed,
        List<Group> groups,
        int lines,
        List<BeliedView> belied,
        @Schema(nullable = true) @Nullable Long deed,
        @Schema(nullable = true) @Nullable After after) {

    /**
     * Files that a later listing of their store has although somebody told they were gone.
     *
     * @param path of one of them
     */
    public record BeliedView(String storeName, String toldBy, int files, String path, Instant listed) {}

    public record Approval(String person, Instant at) {}

    /**
     * Items that would be dropped for one reason.
     *
     * @param backup of one of them
     */
    public record Changed(String why, int items, double bytes, String backup) {}

    /**
     * The copies of one kind a database has on the list in one store.
     *
     * @param why why no rule needed the first of them
     * @param otherReasons how many reasons more there are
     */
    public record Group(
            String database,
            String name,
            String store,
            String storeName,
            String kind,
            int items,
            double bytes,
            Instant firstLanded,
            Instant lastLanded,
            String why,
            int otherReasons,
            List<ItemTally> tallies) {}

    /** How many items are in a state. */
    public record ItemTally(String state, int items, double bytes) {}

    /**
     * One copy of the list.
     *
     * @param at when it ended; null while it may be deleted still
     * @param by who told of it, or has it; empty where nobody did
     */
    public record ItemView(
            int num,
            String database,
            String name,
            String backup,
            String kind,
            String storeName,
            String path,
            double bytes,
            Instant landed,
            String why,
            String state,
            String told,
            @Schema(nullable = true) @Nullable Double freed,
            @Schema(nullable = true) @Nullable Instant at,
            String by) {}

    /** What was found when all of it was carried out. */
    public record After(Instant at, boolean equal, List<CoverAfter> covers) {}

    /** Cover within reach of a database as it was proved and as it is. */
    public record CoverAfter(
            String database,
            @Schema(nullable = true) @Nullable Instant since,
            double secondsBefore,
            double secondsAfter,
            @Schema(nullable = true) @Nullable Instant pointBefore,
            @Schema(nullable = true) @Nullable Instant pointAfter,
            boolean equal) {}
}
