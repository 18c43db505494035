package firth.server.drills;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Restores done to prove that they work. Durations in seconds.
 *
 * @param promised of how many databases drills are promised
 * @param proved of how many of those the last proof is young enough
 * @param tested how many databases were ever proved, promised or not
 * @param due how many are due, or failed
 * @param most the database that most needs a drill and has none proposed: one that failed, else the one that has been due longest
 * @param rows a stretch of the databases, those that need a drill first
 * @param done the newest
 */
public record DrillsView(
        Instant asOf,
        int databases,
        int promised,
        int proved,
        int tested,
        int due,
        @Schema(nullable = true) @Nullable DrillRow most,
        List<DrillRow> rows,
        List<DrillDone> done) {

    /**
     * How it stands with one database.
     *
     * @param state proved, due, failed, awaited where none proved anything yet and none is due, or none where nothing is promised
     * @param proposed a drill that was proposed and of which nobody told yet
     */
    public record DrillRow(
            String database,
            String name,
            @Schema(nullable = true) @Nullable String policy,
            @Schema(nullable = true) @Nullable Double every,
            @Schema(nullable = true) @Nullable Instant proved,
            @Schema(nullable = true) @Nullable Instant due,
            String state,
            @Schema(nullable = true) @Nullable Proposal proposed) {

        DrillRow proposed(@Nullable Proposal open) {
            return new DrillRow(database, name, policy, every, proved, due, state, open);
        }
    }

    /**
     * A drill Firth proposes: a moment chosen by chance within reach, rather where none was ever proved.
     *
     * @param seed what the chance began with, so that anybody can see that the moment was not picked
     * @param expected how long it is computed to take
     */
    public record Proposal(
            String id,
            String database,
            Instant moment,
            long seed,
            @Schema(nullable = true) @Nullable Double expected,
            String tip,
            String title,
            String by,
            Instant at) {}

    /** That a drill is wanted; of no database in particular where none is named. */
    public record DrillWanted(
            @Schema(nullable = true) @Nullable String database) {}

    /**
     * What became of a drill.
     *
     * @param checks what was looked at afterwards; none: it proves nothing
     */
    public record DrillResult(
            Instant started,
            Instant ended,
            @Schema(nullable = true) @Nullable Instant reached,
            boolean ok,
            List<String> checks,
            String message) {}

    /**
     * A drill that was done.
     *
     * @param outcome proved, unchecked, failed, or untold
     * @param suspects copies it read that nobody marked yet; none unless it failed
     */
    public record DrillDone(
            String id,
            String database,
            String name,
            String zone,
            Instant at,
            @Schema(nullable = true) @Nullable Instant moment,
            @Schema(nullable = true) @Nullable Instant reached,
            @Schema(nullable = true) @Nullable String backup,
            String outcome,
            @Schema(nullable = true) @Nullable Double took,
            @Schema(nullable = true) @Nullable Double expected,
            List<String> checks,
            String message,
            int suspects) {}

    /** How many copies were marked. */
    public record Suspected(int copies) {}
}
