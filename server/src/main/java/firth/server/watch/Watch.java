package firth.server.watch;

import firth.server.cover.Cover;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The morning: what is wrong, how the night went, what runs now and what comes. Durations in seconds.
 *
 * <p>Lists are cut where a fleet is large, and say how long they are.
 *
 * @param zone in which most databases of the fleet live
 * @param counts how many findings there are, shown or not
 * @param findings of a large fleet the first of each kind
 * @param folds the kinds of which more was found than is shown
 * @param ordered what somebody wants started and no run has taken up
 */
public record Watch(
        Instant asOf,
        String zone,
        int databases,
        FindingCounts counts,
        List<FindingView> findings,
        List<FoldedFindings> folds,
        Night night,
        List<Running> running,
        int runningCount,
        List<Awaited> ordered,
        List<Next> next,
        int nextCount,
        Logs logs,
        AtAGlance glance,
        @Schema(nullable = true) @Nullable Since since) {

    /** Findings by how soon they need somebody; those that are borne count for themselves. */
    public record FindingCounts(int broken, int willBreak, int besides, int housekeeping, int accepted) {}

    /**
     * Findings of one kind beyond those that are shown.
     *
     * @param more how many
     * @param names of some databases they befall
     */
    public record FoldedFindings(
            String code, String severity, String urgency, int shown, int more, List<String> names) {}

    /** What can be restored of a database in the days before, as it is drawn beside a finding. */
    public record DaysBefore(List<Cover.Water> water, List<Cover.Sand> sand, List<Cover.Mark> marks) {}

    /** Some of so many databases. */
    public record SomeDatabases(int count, List<GradedDatabase> first) {}

    /**
     * Something wrong.
     *
     * @param urgency broken, will-break, besides or housekeeping
     * @param breaks when a promise breaks if nothing happens
     * @param seen when Firth first saw it; absent where it was not looking, or one looks back
     * @param accepted by whom it is borne, where it is
     * @param row the ribbon of the database, where it is about what can be restored
     */
    public record FindingView(
            String key,
            String code,
            String severity,
            String urgency,
            List<GradedDatabase> databases,
            @Schema(nullable = true) @Nullable String zone,
            @Schema(nullable = true) @Nullable Instant breaks,
            @Schema(nullable = true) @Nullable Instant since,
            @Schema(nullable = true) @Nullable Instant seen,
            String title,
            String text,
            String action,
            @Schema(nullable = true) @Nullable String policy,
            List<Way> waysOut,
            List<String> facts,
            @Schema(nullable = true) @Nullable Accepted accepted,
            @Schema(nullable = true) @Nullable DaysBefore row) {}

    /** A database by id and name. */
    public record GradedDatabase(String id, String name, String grade) {}

    /** Something that was tried, in thought. */
    public record Way(
            String action,
            @Schema(nullable = true) @Nullable String kind,
            String store,
            double seconds,
            double bytes,
            Instant resumes,
            boolean ends,
            @Schema(nullable = true) @Nullable Instant holeFrom,
            @Schema(nullable = true) @Nullable Instant holeTo,
            @Schema(nullable = true) @Nullable Instant leaves,
            String text) {}

    /** Who bears a finding, why and until when. */
    public record Accepted(String id, String by, String reason, Instant at, Instant until) {}

    /**
     * The slots and bytes from noon to noon, or to the moment looked from.
     *
     * @param usualBytes what the same nights of the four weeks before mostly wrote; absent where there are fewer than two
     */
    public record Night(
            Instant from,
            Instant to,
            int asked,
            int kept,
            SomeDatabases failed,
            SomeDatabases missed,
            SomeDatabases late,
            double bytes,
            @Schema(nullable = true) @Nullable Double usualBytes) {}

    /** A run under way. */
    public record Running(
            String database,
            String name,
            String kind,
            String run,
            Instant started,
            @Schema(nullable = true) @Nullable Instant expectedEnd,
            @Schema(nullable = true) @Nullable Double usualBytes,
            @Schema(nullable = true) @Nullable Progress progress) {}

    /** How far a run said it was. The rate is that of the last stretch it told of. */
    public record Progress(
            Instant at,
            double readBytes,
            double writtenBytes,
            @Schema(nullable = true) @Nullable Double bytesPerSecond) {}

    /** A backup somebody wants that no run has taken up yet. */
    public record Awaited(String run, String database, String name, String kind, Instant at, String by) {}

    /** A slot of the next twelve hours. */
    public record Next(
            String database,
            String name,
            String kind,
            Instant open,
            Instant close,
            @Schema(nullable = true) @Nullable Double seconds) {}

    /** How logs come: at intervals, by how many databases each, and how many as a stream. */
    public record Logs(List<Every> every, int streamed) {}

    public record Every(double seconds, int databases) {}

    /** The last run that went well, the last that failed, the next slot. */
    public record AtAGlance(
            @Schema(nullable = true) @Nullable Moment lastGood,
            @Schema(nullable = true) @Nullable Moment lastFailed,
            @Schema(nullable = true) @Nullable Moment nextSlot) {}

    public record Moment(String database, String name, String kind, Instant at) {}

    /** What changed since somebody last looked. */
    public record Since(
            Instant looked,
            List<Moved> began,
            int beganCount,
            List<Moved> ended,
            int endedCount,
            List<VersionInForce> policies) {}

    public record Moved(String key, String severity, String databases, String title, Instant at) {}

    public record VersionInForce(String id, String name, int version, Instant at) {}

    /** That a finding is to be borne for a while. */
    public record Bear(String finding, String reason, Instant until) {}
}
