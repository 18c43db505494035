package firth.server.purge;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What the agent of a store is to do (docs/agents.md).
 *
 * @param stocktake the stocktake to be taken; null where none is asked for
 * @param sums whether its listing is to have the checksum of every file
 * @param batches items to be deleted now, a batch a list
 */
public record AgentWork(
        Instant asOf,
        String store,
        @Schema(nullable = true) @Nullable String stocktake,
        boolean sums,
        List<Batch> batches) {

    /**
     * Items of one list that were proved safe a moment ago.
     *
     * @param hash of the list as it was approved
     * @param expires from when on nothing of it may be deleted any more: it is asked for anew
     * @param signature HMAC-SHA256 in hexadecimal, keyed with SHA-256 of the agent's token in hexadecimal, over the list's id, its
     *     hash, the moment it expires, and each item's number, path, bytes and checksum, all parted by line feeds
     */
    public record Batch(String purge, String hash, Instant expires, List<BatchItem> items, String signature) {}

    /** @param bytes rounded to whole bytes; 0 where not known */
    public record BatchItem(int item, String backup, String path, long bytes, String checksum) {}

    /** What became of items. */
    public record ToldItems(String purge, @Nullable String hash, List<ToldItem> items) {}

    /**
     * What became of one.
     *
     * @param outcome deleted, missing, locked or failed
     * @param freed bytes measured to be free now that were not before
     */
    public record ToldItem(
            int item,
            String outcome,
            @Schema(nullable = true) @Nullable Double freed,
            @Schema(nullable = true) @Nullable String text) {}

    /**
     * What an agent measured of its store.
     *
     * @param locks unknown, none, until, immutable or read-only
     * @param writable whether it could write there; null: it is not to try
     * @param trouble why it could not
     */
    public record Measured(
            long freeBytes,
            long capacityBytes,
            @Schema(nullable = true) @Nullable Boolean writable,
            @Schema(nullable = true) @Nullable String locks,
            @Schema(nullable = true) @Nullable String trouble) {}

    /** What was taken of what was told. */
    public record Taken(int taken, List<String> refused) {}
}
