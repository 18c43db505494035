package firth.server.database;

import firth.server.cover.Cover;
import firth.server.watch.Watch;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** One database in full. Durations in seconds. */
public record DatabaseView(
        Instant asOf,
        Instant from,
        Instant to,
        Cover.Row row,
        @Schema(nullable = true) @Nullable Double sizeBytes,
        List<Channel> channels,
        List<AgeSlice> ages,
        List<Cover.GapInfo> gaps,
        List<DataBackup> dataBackups,
        List<Tally> tallies,
        List<SlotView> slots,
        List<CadenceView> cadence,
        List<String> streams,
        List<LineageView> lineages,
        List<Shelf> shelves,
        @Schema(nullable = true) @Nullable WayBack wayBack,
        List<ComponentView> components,
        RoomView room,
        List<NoteView> notes,
        List<HoldView> holds,
        List<Watch.FindingView> findings) {

    /**
     * A part that can be restored by itself.
     *
     * @param backups how many data backups that restore anything hold it
     * @param newest the newest of them
     */
    public record ComponentView(
            String name,
            @Schema(nullable = true) @Nullable String kind,
            @Schema(nullable = true) @Nullable Double bytes,
            int backups,
            @Schema(nullable = true) @Nullable String newest,
            @Schema(nullable = true) @Nullable Instant newestAt) {}

    /**
     * Room taken up over the period.
     *
     * @param moments at which it was weighed
     * @param sizes of the data backups taken in the period, whether they are still there or not
     */
    public record RoomView(List<Instant> moments, List<StoreRoom> stores, List<BackupSize> sizes) {}

    /** What lay in one store at each of the moments. */
    public record StoreRoom(String store, String name, List<Double> bytes) {}

    public record BackupSize(String id, String kind, Instant at, double bytes) {}

    /**
     * What keeps a backup, or what restores a moment.
     *
     * @param by empty where nobody said
     * @param bytes of the copies that nothing else needs
     */
    public record HoldView(
            String id,
            @Schema(nullable = true) @Nullable String backup,
            @Schema(nullable = true) @Nullable Instant moment,
            String reason,
            String by,
            @Schema(nullable = true) @Nullable Instant from,
            @Schema(nullable = true) @Nullable Instant until,
            double bytes) {}

    /** A hold to be placed, on a backup or on a moment. */
    public record HoldWritten(
            @Schema(nullable = true) @Nullable String backup,
            @Schema(nullable = true) @Nullable Instant moment,
            String reason,
            @Schema(nullable = true) @Nullable Instant until) {}

    public record NoteView(String id, String text, String by, Instant at) {}

    /** A note to be kept. */
    public record NoteWritten(String text) {}

    /**
     * The way back to the latest moment from the newest data backup that leads there.
     *
     * @param chain the data backups applied, in order
     * @param logBytes of the logs whose size is known
     * @param seconds how long the steps take whose time is known
     * @param complete whether that is all of them
     * @param evidence how the least known of the copies it reads is: told, listed, read, checked, verified or restored
     * @param known the same of all of them, and of all that cover rests on: sentences
     */
    public record WayBack(
            Instant to,
            List<ChainLink> chain,
            int logs,
            double logBytes,
            double seconds,
            boolean complete,
            @Schema(nullable = true) @Nullable Double promisedSeconds,
            String evidence,
            String known) {}

    /** A data backup of a chain. */
    public record ChainLink(String id, String kind, String store) {}

    /**
     * One unbroken log history; without {@code until} it is in force.
     *
     * @param forks where it left its parent, per stream
     */
    public record LineageView(
            String id,
            @Schema(nullable = true) @Nullable String parent,
            Instant openedAt,
            @Schema(nullable = true) @Nullable Instant until,
            List<Fork> forks) {}

    public record Fork(String stream, long position) {}

    /** What lies in one store now, by age. Bytes are those that no rule needs. */
    public record Shelf(
            String store,
            String name,
            String role,
            @Schema(nullable = true) @Nullable Double reachSeconds,
            List<Lying> backups,
            List<LogStretch> logs,
            double obsoleteBytes) {}

    /** A backup other than a log. */
    public record Lying(
            String id,
            String kind,
            Instant at,
            String verdict,
            @Schema(nullable = true) @Nullable Instant lockedUntil,
            boolean held,
            List<String> rungs,
            List<String> reasons) {}

    /** Logs in a row that are judged alike. */
    public record LogStretch(Instant from, Instant to, String verdict, int logs) {}

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
            @Schema(nullable = true) @Nullable Double attainment) {}

    /** A stretch of moments, or a moment on its own. */
    public record Stretch(Instant from, Instant to) {}

    public record BreachView(Instant from, Instant to, double worstSeconds) {}

    /** The greatest age in a slice of the period. */
    public record AgeSlice(
            Instant from,
            Instant to,
            double worstSeconds,
            @Schema(nullable = true) @Nullable Double objectiveSeconds) {}

    /** A data backup that still exists somewhere, or is known to have gone. */
    public record DataBackup(
            String id,
            String kind,
            Instant at,
            @Schema(nullable = true) @Nullable String parent,
            String verdict,
            boolean locked,
            @Nullable String note) {}

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
            @Schema(nullable = true) @Nullable Instant ended,
            String state) {}

    /** Logs that came too far apart; without {@code to} none has come since. */
    public record CadenceView(
            String schedule,
            String stream,
            Instant from,
            @Schema(nullable = true) @Nullable Instant to,
            long missed) {}
}
