package firth.server.week;

import firth.server.policies.Policies;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The slots of a week to come, and what stands in their way. Durations in seconds.
 *
 * @param slots how many there are
 * @param bars each of them, where they are few
 * @param bands how many there are at a time, where they are many
 * @param unserved the first of what nobody starts
 * @param unservedAll how much of that there is
 */
public record WeekView(
        Instant from,
        Instant to,
        String zone,
        List<ChosenBy> choices,
        String chosen,
        int slots,
        List<SlotBar> bars,
        List<LoadBand> bands,
        List<HoursBand> open,
        List<HoursBand> closures,
        List<Collision> collisions,
        List<Unserved> unserved,
        int unservedAll) {

    /**
     * How much runs at a time if all goes as usual.
     *
     * @param slots that are open for the first time in it, or whose runs still go on
     * @param bytesPerSecond what they write to the store the week is looked at by, or to all
     */
    public record LoadBand(Instant from, Instant to, int slots, double bytesPerSecond) {}

    /**
     * Slots one by one.
     *
     * @param found how many there are
     * @param rows a stretch of them, in the order in which they open
     */
    public record SlotList(int found, List<SlotBar> rows) {}

    /** Something the week can be looked at by: a store, a site or a policy. */
    public record ChosenBy(String by, String id, String name) {}

    /**
     * One slot.
     *
     * @param state planned, superseded, excused or off
     * @param overrunSeconds by how much it will overrun a window it must finish in, if it goes as usual
     */
    public record SlotBar(
            String database,
            String name,
            String policy,
            int version,
            String schedule,
            String kind,
            Instant open,
            Instant close,
            boolean mustFinish,
            String state,
            @Schema(nullable = true) @Nullable Double medianSeconds,
            @Schema(nullable = true) @Nullable Double longestSeconds,
            int runs,
            @Schema(nullable = true) @Nullable String store,
            double overrunSeconds) {}

    /** A stretch in which running is welcome, or in which nothing is to run and why. */
    public record HoursBand(
            Instant from,
            Instant to,
            String what,
            @Schema(nullable = true) @Nullable String policy) {}

    /**
     * More at once than a store has shown it takes.
     *
     * @param together how many
     * @param databases a few of them
     */
    public record Collision(
            String store,
            String storeName,
            Instant from,
            Instant to,
            int together,
            List<String> databases,
            double bytesPerSecond,
            double shownBytesPerSecond) {}

    /**
     * Something scheduled that nobody starts.
     *
     * @param schedule which; null where it is all of the database's
     * @param since when the first run in a row was missed; null where it was found out otherwise
     * @param why what was found out; null where nothing but the missed runs tells
     */
    public record Unserved(
            String database,
            String name,
            @Schema(nullable = true) @Nullable String schedule,
            long missed,
            @Schema(nullable = true) @Nullable Instant since,
            @Schema(nullable = true) @Nullable String why) {}

    /** A run that will no longer fit, from when on, as things grow at present. */
    public record Soon(List<Policies.Miss> misses) {}
}
