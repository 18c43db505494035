package firth.server.stores;

import firth.server.stocktake.StockView;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The stores: what they hold, held and will hold.
 *
 * @param days how many days back and ahead the curves go, a value a day
 */
public record StoresView(Instant asOf, int days, List<StoreRow> stores) {

    /**
     * A store.
     *
     * @param back bytes held, from so many days ago to now
     * @param ahead bytes from now on, if every slot is kept, all goes as usual and nothing is deleted
     * @param purged the same if each day what no rule needs is deleted
     * @param full when it is full as it goes; null where not within the days or no capacity is known
     * @param fullPurged when it is full all the same
     * @param obsolete bytes no rule needs now
     * @param way bytes that would give way now by the store's own rule
     * @param givesWay refuse-new, obsolete-first or copied-elsewhere-first
     * @param minimumStaySeconds how long a copy stays at the least
     * @param written the usual and the best rate full backups were written to it; null where none was
     * @param copied the usual rate copies came to it from other stores
     * @param read the usual and the best rate drills that read from it alone came to; null where none was
     * @param agent whether its agent asks for work
     * @param measured what its agent found there; null where none told
     */
    public record StoreRow(
            String id,
            String name,
            String site,
            String medium,
            String role,
            @Schema(nullable = true) @Nullable Double capacity,
            List<Double> back,
            List<Double> ahead,
            List<Double> purged,
            @Schema(nullable = true) @Nullable Instant full,
            @Schema(nullable = true) @Nullable Instant fullPurged,
            double obsolete,
            double way,
            String givesWay,
            @Schema(nullable = true) @Nullable Double minimumStaySeconds,
            @Schema(nullable = true) @Nullable Double readStated,
            @Schema(nullable = true) @Nullable Rate written,
            @Schema(nullable = true) @Nullable Rate copied,
            @Schema(nullable = true) @Nullable Rate read,
            boolean agent,
            @Schema(nullable = true) @Nullable FoundRoom measured,
            @Schema(nullable = true) @Nullable StockTally stock) {}

    /**
     * What the agent of a store measured.
     *
     * @param writable whether it could write there; null where it is not to try
     * @param locks how files are kept from being deleted: unknown, none, until, immutable or read-only
     * @param trouble why it could not write
     */
    public record FoundRoom(
            Instant at,
            double freeBytes,
            double capacityBytes,
            @Schema(nullable = true) @Nullable Boolean writable,
            String locks,
            String trouble) {}

    /** Bytes a second: of half of so many backups at least, and of the fastest. */
    public record Rate(double usual, double best, int backups) {}

    /** The newest stocktake in figures, and how many finds of each kind are still open. */
    public record StockTally(StockView.TakeView take, Map<String, Integer> open) {}

    /** One store by database, with what it would bring down. */
    public record StoreDetail(String id, String name, int databases, List<StoreDatabase> rows, List<Relief> reliefs) {}

    /**
     * What a database holds in a store.
     *
     * @param needed bytes its rules need there
     * @param week bytes that came to be needed there over the week to come, by the forecast
     * @param kinds bytes by kind
     * @param copies whether the copies rule of its policy is held: a sentence; null where there is none
     */
    public record StoreDatabase(
            String id,
            String name,
            double held,
            double needed,
            double week,
            Map<String, Double> kinds,
            @Schema(nullable = true) @Nullable String copies,
            boolean copiesHeld) {}

    /** Something that brings the level down, and when the store is full then; null: not within the days. */
    public record Relief(
            String what,
            double bytes,
            @Schema(nullable = true) @Nullable Instant full) {}

    /**
     * The forecast as it would have been made some days ago, held against what came.
     */
    public record BackTest(Instant made, int days, List<BackTested> stores) {}

    /** @param error the difference at the end as a share of what really lay there; null where nothing did */
    public record BackTested(
            String store,
            String name,
            List<Double> forecast,
            List<Double> actual,
            @Schema(nullable = true) @Nullable Double error) {}
}
