package firth.server.restore;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * How to get a database back to a moment from what is left. Durations in seconds, sizes in bytes.
 *
 * @param engine whose writing of positions people know; absent: nobody said
 * @param target the moment asked for; absent where positions are asked for, or nothing can be restored
 * @param lastCommit the last change in all the logs the best way applies, where the target lies after it: they are applied without a
 *     target; null where the target is one to stop at
 * @param more how many further ways there are
 * @param hole where the target cannot be restored, the gap it lies in
 * @param before the nearest restorable moment not after the target
 * @param after the nearest restorable moment not before the target
 * @param promised how long a restore may take by the policy in force
 * @param script whether Firth has a script for the engine
 * @param factor how long drills lately took against what was expected; absent where none was timed
 */
public record RestoreView(
        String database,
        String name,
        String zone,
        @Schema(nullable = true) @Nullable String engine,
        Instant asOf,
        String hazard,
        @Schema(nullable = true) @Nullable Instant target,
        @Schema(nullable = true) @Nullable Instant lastCommit,
        List<StreamPosition> positions,
        List<PlanWay> ways,
        int more,
        @Schema(nullable = true) @Nullable PlanHole hole,
        @Schema(nullable = true) @Nullable Instant before,
        @Schema(nullable = true) @Nullable Instant after,
        @Schema(nullable = true) @Nullable Double promised,
        @Schema(nullable = true) @Nullable Double factor,
        @Schema(nullable = true) @Nullable DrillProof proof,
        List<PlanPlace> places,
        List<String> streams,
        List<String> lineages,
        List<String> components,
        boolean script,
        Destination destination) {

    /** Where logs of a stream stop being applied. */
    public record StreamPosition(String stream, long position) {}

    /**
     * One way back.
     *
     * @param why how it compares with the best one, in words; empty for the best
     * @param seconds of all whose time is known, as computed from sizes and rates
     */
    public record PlanWay(
            String tip,
            String lineage,
            String title,
            String why,
            List<PlanStep> steps,
            int logs,
            double seconds,
            boolean secondsKnown) {}

    /**
     * One thing to do: a backup to read, or the logs of one store and stream together.
     *
     * @param kind a kind of backup
     * @param backup the backup, or the first of the logs
     * @param last the last of the logs
     * @param at the moment a data backup is consistent at, or a log reaches
     * @param starts after the beginning of all
     * @param evidence how times and positions are known, of several the weakest; absent for very many
     * @param copies where else it lies
     */
    public record PlanStep(
            String kind,
            String backup,
            @Schema(nullable = true) @Nullable String last,
            int count,
            String store,
            String storeName,
            @Schema(nullable = true) @Nullable String stream,
            @Schema(nullable = true) @Nullable Instant at,
            @Schema(nullable = true) @Nullable Double bytes,
            double starts,
            @Schema(nullable = true) @Nullable Double seconds,
            @Schema(nullable = true) @Nullable String path,
            @Schema(nullable = true) @Nullable String checksum,
            @Schema(nullable = true) @Nullable String key,
            @Schema(nullable = true) @Nullable String evidence,
            List<CopyAt> copies) {}

    /** A copy of a backup the plan reads. */
    public record CopyAt(String store, String storeName) {}

    /** The hole in the logs a target lies in. */
    public record PlanHole(
            String stream,
            @Schema(nullable = true) @Nullable Instant after,
            @Schema(nullable = true) @Nullable Instant before,
            String cause) {}

    /** The drill that proved last that this database can be restored. */
    public record DrillProof(
            String drill,
            Instant at,
            @Schema(nullable = true) @Nullable Double took,
            @Schema(nullable = true) @Nullable Double expected,
            List<String> checks) {}

    /** A store that holds backups of the database. */
    public record PlanPlace(
            String store,
            String name,
            String site,
            @Schema(nullable = true) @Nullable String siteId,
            String medium,
            String role) {}

    /**
     * Where it is restored to, unless somebody says otherwise.
     *
     * @param name a new one beside the old
     * @param bytes room the restored database takes
     * @param keys names of the encryption keys to have at hand
     * @param states what the engine goes through, in order
     */
    public record Destination(
            String name,
            String host,
            @Schema(nullable = true) @Nullable Double bytes,
            List<String> keys,
            List<PlanState> states) {}

    /** One state the restored database goes through. */
    public record PlanState(String id, String text) {}

    /**
     * A restore that is to be done by this plan.
     *
     * @param query what the plan was asked for with, as on its page
     * @param name of the restored database; the same as before is taken only with {@code over}
     * @param over whether the old one may be written over
     * @param paths from where files lay to where they are to lie
     */
    public record RestoreBegun(String query, String name, String host, boolean over, List<PathFromTo> paths) {}

    /** Files that lay under one path lie under another. */
    public record PathFromTo(String from, String to) {}

    /** Where a restore stands that somebody began. */
    public record KeptRestore(
            String id,
            String by,
            Instant at,
            RestoreView plan,
            String name,
            String host,
            boolean over,
            List<PathFromTo> paths,
            List<CheckItem> items,
            @Schema(nullable = true) @Nullable RestoreEnded ended,
            @Schema(nullable = true) @Nullable RestoreCourse course) {

        KeptRestore with(List<CheckItem> other) {
            return new KeptRestore(id, by, at, plan, name, host, over, paths, other, ended, course);
        }

        KeptRestore with(RestoreEnded how) {
            return new KeptRestore(id, by, at, plan, name, host, over, paths, items, how, course);
        }

        KeptRestore with(RestoreCourse far) {
            return new KeptRestore(id, by, at, plan, name, host, over, paths, items, ended, far);
        }
    }

    /**
     * How far a program is that carries a restore out, by its own word.
     *
     * @param host where it runs
     * @param into the directory the files lie in
     * @param states those it went through, in order, the last one perhaps under way
     * @param checks what the engine and owners said of what came of it
     * @param opened when the database was open
     * @param reached the moment it was restored to, proved; it is done then
     * @param positions where logs stopped being applied, of streams the engine says it of
     * @param failed why it went no further
     * @param told when Firth heard of it last; whatever is told itself is not read
     */
    public record RestoreCourse(
            String host,
            String into,
            List<CourseState> states,
            List<String> checks,
            @Schema(nullable = true) @Nullable Instant opened,
            @Schema(nullable = true) @Nullable Instant reached,
            List<StreamPosition> positions,
            @Schema(nullable = true) @Nullable String failed,
            @Schema(nullable = true) @Nullable Instant told) {

        boolean hasEnded() {
            return failed != null || reached != null;
        }

        RestoreCourse heard(Instant now) {
            return new RestoreCourse(host, into, states, checks, opened, reached, positions, failed, now);
        }
    }

    /**
     * A state of the checklist that a program went through.
     *
     * @param done bytes of files or logs so far, as far as measured
     * @param of how many there are to be, where that is known
     */
    public record CourseState(
            String state,
            Instant began,
            @Schema(nullable = true) @Nullable Instant ended,
            @Schema(nullable = true) @Nullable Double done,
            @Schema(nullable = true) @Nullable Double of) {}

    /** One line of the checklist. */
    public record CheckItem(
            String id,
            String state,
            String text,
            Map<String, String> details,
            @Schema(nullable = true) @Nullable Instant done,
            @Schema(nullable = true) @Nullable String by) {}

    /** A line of a checklist done, or not done after all. */
    public record Ticked(String item, boolean done) {}

    /**
     * How a restore ended.
     *
     * @param ok whether the database is open
     * @param reached the moment it was restored to
     * @param opened when it opened; its new lineage begins then
     * @param enrol whether one restored to a new name is to be looked after by the same rules
     * @param lineage what the new lineage is called; absent: the next number
     * @param positions where logs stopped being applied, for the new lineage to begin at
     */
    public record RestoreEnded(
            boolean ok,
            @Schema(nullable = true) @Nullable Instant reached,
            @Schema(nullable = true) @Nullable Instant opened,
            boolean enrol,
            @Schema(nullable = true) @Nullable String lineage,
            List<StreamPosition> positions,
            String message) {}

    /** A restore among others. */
    public record RestoreRow(
            String id,
            String database,
            String name,
            @Schema(nullable = true) @Nullable Instant target,
            String by,
            Instant at,
            String state) {}
}
