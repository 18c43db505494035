package firth.server.api;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** One database in full. Durations in seconds. */
public record DatabaseView(
        Instant asOf,
        Instant from,
        Instant to,
        Cover.Row row,
        @Schema(nullable = true) Double sizeBytes,
        List<Channel> channels,
        List<AgeSlice> ages,
        List<Cover.GapInfo> gaps,
        List<DataBackup> dataBackups,
        List<Tally> tallies,
        List<SlotView> slots,
        List<CadenceView> cadence) {

    /** What one hazard leaves, and how its promise was kept. */
    public record Channel(
            String hazard,
            List<Stretch> restorable,
            List<BreachView> breaches,
            double maxSeconds,
            double meanSeconds,
            double p50Seconds,
            double p95Seconds,
            double p99Seconds,
            @Schema(nullable = true) Double attainment) {}

    /** A stretch of moments, or a moment on its own. */
    public record Stretch(Instant from, Instant to) {}

    public record BreachView(Instant from, Instant to, double worstSeconds) {}

    /** The greatest age in a slice of the period. */
    public record AgeSlice(
            Instant from,
            Instant to,
            double worstSeconds,
            @Schema(nullable = true) Double objectiveSeconds) {}

    /** A data backup that still exists somewhere, or is known to have gone. */
    public record DataBackup(
            String id,
            String kind,
            Instant at,
            @Schema(nullable = true) String parent,
            String verdict,
            boolean locked,
            String note) {}

    /** How many copies of a kind have a verdict, and their bytes. */
    public record Tally(String kind, String verdict, int copies, double bytes) {}

    /** An expected run, and the attempts that belong to it. */
    public record SlotView(
            String schedule,
            String kind,
            Instant open,
            Instant close,
            String verdict,
            double spillSeconds,
            List<RunView> runs) {}

    /** An attempt; without {@code ended} it runs. */
    public record RunView(
            String id,
            Instant started,
            @Schema(nullable = true) Instant ended,
            String state) {}

    /** Logs that came too far apart; without {@code to} none has come since. */
    public record CadenceView(
            String schedule,
            Instant from,
            @Schema(nullable = true) Instant to,
            long missed) {}
}
