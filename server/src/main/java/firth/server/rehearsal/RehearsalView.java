package firth.server.rehearsal;

import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The fleet as if chosen things were gone. Durations in seconds, sizes in bytes.
 *
 * @param asked how many databases are to be judged
 * @param judged how many are
 * @param result when all are
 * @param trouble why it was broken off; empty where it was not
 */
public record RehearsalView(
        String id,
        Losing losing,
        String by,
        Instant at,
        int asked,
        int judged,
        @Schema(nullable = true) @Nullable Rehearsed result,
        String trouble) {

    /**
     * What is lost, and how many restores run at a time.
     *
     * @param moment when; absent: the newest fact
     * @param unlocked whether everything is lost that no lock keeps
     * @param sideBySide at least 1
     */
    public record Losing(
            String title,
            List<String> sites,
            List<String> stores,
            List<String> hosts,
            boolean unlocked,
            @Schema(nullable = true) @Nullable Instant moment,
            int sideBySide) {}

    /**
     * What came of it.
     *
     * @param rows those restored, in their order, then the rest; as it is answered the first of each
     * @param down how many databases are down themselves, at a lost site or on a lost host
     * @param restored how many are restored: those that are down, or, where none is, all
     * @param unreachable how many of those cannot be
     * @param promised of how many a restore time is promised, of those that can be
     * @param kept how many of these promises are kept
     * @param seconds until the last is back, of those whose time is known
     * @param untimed how many can be restored in a time that is not known
     * @param heldBack how many of those restored are held back
     * @param atATime what the best order found would come to with at most one restore at a time, at most two, and so on
     */
    public record Rehearsed(
            @Nullable Instant moment,
            int databases,
            int down,
            int restored,
            int unreachable,
            int promised,
            int kept,
            double seconds,
            int untimed,
            @Schema(nullable = true) @Nullable Double worstAge,
            int heldBack,
            List<AtATime> atATime,
            List<RehearsedRow> rows) {

        /** With the first rows of those restored and of the rest alone. */
        Rehearsed firstOf(int most) {
            return new Rehearsed(
                    moment,
                    databases,
                    down,
                    restored,
                    unreachable,
                    promised,
                    kept,
                    seconds,
                    untimed,
                    worstAge,
                    (int) rows.stream().filter(RehearsedRow::heldBack).count(),
                    atATime,
                    Stream.concat(
                                    rows(true).stream().limit(most),
                                    rows(false).stream().limit(most))
                            .toList());
        }

        /** Those that are restored, or the rest. */
        List<RehearsedRow> rows(boolean restored) {
            return rows.stream().filter(r -> r.restored() == restored).toList();
        }
    }

    /** With the first rows of what came of it alone. */
    RehearsalView firstOf(int most) {
        return new RehearsalView(
                id, losing, by, at, asked, judged, result == null ? null : result.firstOf(most), trouble);
    }

    /** What at most so many restores side by side come to: promises kept, and seconds until the last is back. */
    public record AtATime(int most, int kept, double seconds) {}

    /**
     * One database.
     *
     * @param reached what it can be restored to; absent: nothing
     * @param age how old that is at the moment of the loss
     * @param within whether that is within the objective for such a loss; absent where none is promised
     * @param seconds what its restore takes by itself
     * @param begins when its restore begins, beside the others
     * @param heldBack whether it waits though there would be room for it, so that others keep their promise or all is over sooner
     * @param cure the cheapest change after which something would be left
     */
    public record RehearsedRow(
            String database,
            String name,
            @Schema(nullable = true) @Nullable String policy,
            boolean down,
            boolean restored,
            @Schema(nullable = true) @Nullable Instant reached,
            @Schema(nullable = true) @Nullable Double age,
            @Schema(nullable = true) @Nullable Boolean within,
            @Schema(nullable = true) @Nullable Double seconds,
            @Schema(nullable = true) @Nullable Double begins,
            @Schema(nullable = true) @Nullable Double ends,
            boolean heldBack,
            @Schema(nullable = true) @Nullable Double promised,
            List<String> stores,
            @Schema(nullable = true) @Nullable String cure) {}

    /** A rehearsal among others. */
    public record RehearsalRow(String id, String title, String by, Instant at, int unreachable, double seconds) {}

    /** What can be lost. */
    public record Losable(List<Thing> sites, List<Thing> stores, List<Thing> hosts) {}

    /** @param databases how many live there, or on it; of a store how many is not said */
    public record Thing(String id, String name, int databases) {}
}
