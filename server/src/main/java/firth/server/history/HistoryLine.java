package firth.server.history;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * One run, or one backup nobody told the run of, in detail.
 *
 * @param attempts every run of the same slot, in the order they started
 * @param output what the engine printed
 * @param chain what the backup hangs from, the full first, itself left out
 * @param hanging what hangs from it, nearest first
 * @param made what the same run made beside it, at most a hundred
 * @param traits what was said of the backup, as words: compressed, encrypted with which key and the like
 */
public record HistoryLine(
        HistoryView.Line line,
        @Schema(nullable = true) @Nullable SlotOf slot,
        List<AttemptView> attempts,
        @Schema(nullable = true) @Nullable String trigger,
        @Schema(nullable = true) @Nullable Ordered ordered,
        @Schema(nullable = true) @Nullable String output,
        @Schema(nullable = true) @Nullable String note,
        List<String> traits,
        @Schema(nullable = true) @Nullable InLogs inLogs,
        List<CoursePoint> course,
        List<StretchView> stretches,
        @Schema(nullable = true) @Nullable Double usualPerSecond,
        List<Hanging> chain,
        List<Hanging> hanging,
        List<Hanging> made,
        List<CopyView> copies) {

    /**
     * Where it begins and ends in the logs, as its engine writes such places.
     *
     * @param transactions the last of each domain or server up to there
     */
    public record InLogs(
            String lineage,
            String from,
            String to,
            @Schema(nullable = true) @Nullable String transactions) {}

    /** The slot it belongs to. */
    public record SlotOf(String schedule, Instant open, Instant close, String verdict) {}

    public record AttemptView(
            String id,
            Instant started,
            @Schema(nullable = true) @Nullable Instant ended,
            String state,
            String message) {}

    /** What had been read and written by a moment, in bytes. */
    public record CoursePoint(Instant at, double readBytes, double writtenBytes) {}

    /**
     * A stretch of its course.
     *
     * @param share of the usual rate of writing; null where too few like runs are known
     * @param side {@code reading}, {@code transport}, {@code writing}, or {@code delivery} where it is either of the last two
     */
    public record StretchView(
            Instant from,
            Instant to,
            double readPerSecond,
            double writtenPerSecond,
            @Schema(nullable = true) @Nullable Double share,
            boolean slow,
            String side) {}

    public record Hanging(String backup, String kind, Instant at) {}

    /** @param verdict {@code needed}, {@code obsolete} or {@code unusable}; null where it is not there */
    public record CopyView(
            String store,
            String name,
            Instant landed,
            @Schema(nullable = true) @Nullable Instant lockedUntil,
            @Schema(nullable = true) @Nullable Instant gone,
            @Schema(nullable = true) @Nullable Instant spoiled,
            @Schema(nullable = true) @Nullable Double bytes,
            @Schema(nullable = true) @Nullable String path,
            @Schema(nullable = true) @Nullable String verdict,
            EvidenceView evidence) {}

    /**
     * How the times and positions of a copy are known.
     *
     * @param is told, listed, read, checked, verified or restored
     * @param by who found it so
     */
    public record EvidenceView(
            String is,
            @Schema(nullable = true) @Nullable String by,
            @Schema(nullable = true) @Nullable Instant at) {}

    /**
     * That somebody wanted it now.
     *
     * @param name what they call it
     */
    public record Ordered(
            String by,
            String reason,
            @Schema(nullable = true) @Nullable String name) {}
}
