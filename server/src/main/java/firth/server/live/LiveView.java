package firth.server.live;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The small real fleet beside this server.
 *
 * @param truth what was committed to each database, by its own word
 */
public record LiveView(List<LiveFault> faults, List<LiveTruth> truth) {

    /**
     * Something that can be broken.
     *
     * @param title what one presses to break it
     * @param shows what Firth then says, and where
     * @param once whether nobody can put it right again
     * @param broken whether it is
     * @param asked whether somebody just asked for it to be broken or put right
     * @param at when that was done last; null: never
     * @param said why it could not be done; empty where it could
     */
    public record LiveFault(
            String id,
            String title,
            String shows,
            boolean once,
            boolean broken,
            boolean asked,
            @Schema(nullable = true) @Nullable Instant at,
            String said) {}

    /**
     * What a database says itself.
     *
     * @param rows committed since the fleet was started
     * @param committed when the last one was; null: none was yet
     * @param said why the last try did not go well; empty where it did
     */
    public record LiveTruth(
            String database,
            long rows,
            @Schema(nullable = true) @Nullable Instant committed,
            String said) {}

    /** Whether something is to be broken, or put right. */
    public record FaultWish(boolean broken) {}
}
