package firth.server.stocktake;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * A stocktake with what it found.
 *
 * @param found of each sort that there is how many
 * @param toRemove how many are to be removed
 * @param finds the first of each sort
 * @param may whether whoever asks may decide about finds: an operator, and only of the newest of its store
 */
public record StockView(TakeView take, List<Found> found, int toRemove, List<FindView> finds, boolean may) {

    /** How many finds of a sort there are: missing, mismatch, lock, claimed or stray. */
    public record Found(String what, int finds) {}

    /**
     * A stocktake in figures.
     *
     * @param taken when the listing was begun; null while it is waited for
     * @param state asked, taken or refused
     * @param told why it was refused, else who listed
     * @param unplaced copies nobody said the place of
     * @param sums whether every file was, or is to be, read through
     */
    public record TakeView(
            String id,
            String store,
            String storeName,
            String askedBy,
            Instant askedAt,
            @Schema(nullable = true) @Nullable Instant taken,
            String state,
            String told,
            int agreed,
            int files,
            int unplaced,
            boolean sums) {}

    /**
     * Something in which store and catalog differ.
     *
     * @param what missing, mismatch, lock, claimed or stray
     * @param since when the copy was last seen to be right; null where it never was
     * @param unasked whether the file is gone though no approved list had it
     * @param state open, dropped, adopted or to-remove
     * @param may what may be decided now
     */
    public record FindView(
            int num,
            String what,
            @Schema(nullable = true) @Nullable String database,
            @Schema(nullable = true) @Nullable String backup,
            String path,
            String told,
            @Schema(nullable = true) @Nullable Double size,
            @Schema(nullable = true) @Nullable Double expected,
            @Schema(nullable = true) @Nullable Instant written,
            @Schema(nullable = true) @Nullable Instant since,
            boolean unasked,
            String state,
            @Schema(nullable = true) @Nullable String by,
            List<String> may) {}

    /** A decision: drop, adopt, remove or undo. */
    public record Decided(String what) {}

    /**
     * What became of a listing.
     *
     * @param flaws the first lines that could not be read
     * @param bad how many could not be
     */
    public record ListingTaken(TakeView take, List<String> flaws, int bad) {}
}
