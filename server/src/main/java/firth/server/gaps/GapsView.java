package firth.server.gaps;

import firth.server.cover.Cover;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Every hole in the logs of the fleet.
 *
 * @param stores by store and slice of the period, in how many databases logs are missing
 */
public record GapsView(Instant asOf, Instant from, Instant to, List<GapRow> rows, List<StoreOutage> stores) {

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

    /** A slice in which logs are missing. */
    public record OutageSlice(Instant from, Instant to, List<String> databases) {}
}
