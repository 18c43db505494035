package firth.server.cover;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The whole fleet over a period. Durations in seconds.
 *
 * @param drawn whether rows have their ribbons (water, sand and marks); those of a large fleet are had a few at a time
 */
public record Cover(Instant asOf, Instant from, Instant to, List<Outside> outside, boolean drawn, List<Row> rows) {

    /** Of the databases that promise something, the share outside its mishap objective in a slice of the period. */
    public record Outside(Instant from, Instant to, double share, int databases) {}

    /**
     * One database.
     *
     * @param at the moment of its ages; those that grow have grown since by the time that has passed
     * @param labels each as its name and value, as in "class: sailings", in order
     */
    public record Row(
            String id,
            String name,
            String engine,
            String site,
            String zone,
            @Schema(nullable = true) @Nullable Policy policy,
            String grade,
            boolean pointsOnly,
            Instant at,
            Instant inServiceFrom,
            List<HazardNow> hazards,
            double reachSeconds,
            @Schema(nullable = true) @Nullable Double reachTargetSeconds,
            @Schema(nullable = true) @Nullable Double reachCover,
            @Schema(nullable = true) @Nullable Instant reachFrom,
            @Schema(nullable = true) @Nullable String owner,
            List<String> labels,
            List<Water> water,
            List<Sand> sand,
            List<Mark> marks) {

        /** The same without its ribbon. */
        Row undrawn() {
            return new Row(
                    id,
                    name,
                    engine,
                    site,
                    zone,
                    policy,
                    grade,
                    pointsOnly,
                    at,
                    inServiceFrom,
                    hazards,
                    reachSeconds,
                    reachTargetSeconds,
                    reachCover,
                    reachFrom,
                    owner,
                    labels,
                    List.of(),
                    List.of(),
                    List.of());
        }
    }

    /** The policy version in force. */
    public record Policy(String id, String name, int version, boolean enabled, String promise) {}

    /**
     * How one hazard leaves a database now.
     *
     * @param grows whether the age goes on growing while nothing comes
     */
    public record HazardNow(
            String hazard,
            @Schema(nullable = true) @Nullable Instant recoveryPoint,
            double ageSeconds,
            boolean grows,
            @Schema(nullable = true) @Nullable Double objectiveSeconds,
            double worstSeconds,
            @Schema(nullable = true) @Nullable Double attainment) {}

    /** A stretch that can be restored, or a moment on its own, and the hazards it survives; may begin before the period. */
    public record Water(Instant from, Instant to, int depth, List<String> survives) {}

    /** A stretch of which nothing can be restored; may begin before the period. Where: before, between, after, everywhere. */
    public record Sand(
            Instant from,
            Instant to,
            String where,
            @Schema(nullable = true) @Nullable GapInfo gap) {}

    /** A hole in the logs. */
    public record GapInfo(
            String lineage,
            String stream,
            long fromPosition,
            long toPosition,
            @Schema(nullable = true) @Nullable Instant after,
            @Schema(nullable = true) @Nullable Instant before,
            String state,
            @Schema(nullable = true) @Nullable String bridgedBy,
            @Schema(nullable = true) @Nullable Instant leavesReach,
            String cause) {}

    /** A data backup, or a failed run of one or of logs. */
    public record Mark(String id, String kind, Instant at, boolean failed, int count) {}
}
