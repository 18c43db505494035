package firth.server.gaps;

import firth.server.cover.Cover;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Holes in the logs of the fleet.
 *
 * @param all how many there are
 * @param found how many of them are asked for
 * @param rows a stretch of those
 */
public record GapsView(Instant asOf, GapTally all, GapTally found, List<GapRow> rows) {

    /** How many gaps, in how many databases, and of which the end is open or which nothing bridges. */
    public record GapTally(int gaps, int databases, int open, int unbridged) {}

    /**
     * When logs of how many databases are missing, by the store they lie in, those with most first.
     *
     * @param others how many stores more there are than are named
     */
    public record Outages(Instant from, Instant to, List<StoreOutage> stores, int others) {}

    /**
     * @param gap its state is bridged, unbridged, or open where logs have stopped and none has come since
     * @param lostFrom from when on, for it, no moment can be restored; null where every moment can all the same
     * @param lostTo up to when; null where that goes on
     * @param inside whether it lies inside the promised reach, or none is promised
     * @param leavesReach when its end passes out of the promised reach; null where none is promised or its end is open
     * @param store where its logs lie, or those after it do
     */
    public record GapRow(
            String database,
            String name,
            String zone,
            @Schema(nullable = true) @Nullable String engine,
            @Schema(nullable = true) @Nullable String policy,
            Cover.GapInfo gap,
            @Schema(nullable = true) @Nullable Instant lostFrom,
            @Schema(nullable = true) @Nullable Instant lostTo,
            boolean inside,
            @Schema(nullable = true) @Nullable Instant leavesReach,
            @Schema(nullable = true) @Nullable String store,
            String storeName) {}

    public record StoreOutage(
            @Schema(nullable = true) @Nullable String store, String name, List<OutageSlice> slices) {}

    /**
     * A slice in which logs are missing.
     *
     * @param databases of how many
     * @param names of a few of them; none where there are many slices
     */
    public record OutageSlice(Instant from, Instant to, int databases, List<String> names) {}
}
