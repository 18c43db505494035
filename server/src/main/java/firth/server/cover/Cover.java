package firth.server.cover;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The fleet, or what of it was asked for, over a period. Durations in seconds.
 *
 * @param databases how many there are in all
 * @param groups those asked for, in their order
 * @param choices what there is to choose by
 * @param rows the first of those asked for, with their ribbons; the others are had a few at a time
 */
public record Cover(
        Instant asOf,
        Instant from,
        Instant to,
        int databases,
        List<CoverGroup> groups,
        List<Choosable> choices,
        List<Row> rows) {

    /**
     * Databases that belong together.
     *
     * @param promise what the policy they share promises; empty where they share none
     * @param found how many they are
     * @param databases their ids; of a very large fleet those of the first alone
     */
    public record CoverGroup(String title, String promise, int found, List<String> databases) {}

    /** One thing to choose by, its trait: grade, policy, site, engine or label. */
    public record Choosable(String trait, List<Counted> values) {}

    public record Counted(String value, int databases) {}

    /** How much of the whole fleet was outside its promise, slice by slice of a period. */
    public record Strip(Instant asOf, Instant from, Instant to, List<Outside> outside) {}

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
            List<Mark> marks) {}

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
