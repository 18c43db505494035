package firth.server.history;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * History, a page at a time.
 *
 * @param asOf what was known at this moment
 * @param next where to go on from; null where nothing follows
 */
public record HistoryView(
        Instant asOf,
        Instant from,
        List<Line> lines,
        @Schema(nullable = true) @Nullable String next) {

    /**
     * A backup with the run it came of, a run no backup came of, a drill, or a restore that opened a lineage.
     *
     * @param id of the run where there is one, else of what it is
     * @param kind a kind of backup, {@code drill} or {@code restore}
     * @param outcome {@code ok}, {@code failed}, {@code cancelled} or {@code running}
     * @param bytes as they were written; {@code bytesRead} as they were read from the database
     * @param perSecond bytes written a second
     * @param verdict of the slot it belongs to; null where it belongs to none
     * @param broken what its policy demands of a backup and this one is not
     * @param demanded whether its policy demands anything
     * @param folded where it stands for others that failed of the same cause
     * @param uncounted why a backup restores nothing though it is on record; empty where it counts
     */
    public record Line(
            String key,
            String id,
            @Schema(nullable = true) @Nullable String backup,
            String database,
            String name,
            String zone,
            String kind,
            String outcome,
            Instant started,
            @Schema(nullable = true) @Nullable Instant ended,
            @Schema(nullable = true) @Nullable Figure seconds,
            @Schema(nullable = true) @Nullable Figure bytes,
            @Schema(nullable = true) @Nullable Figure perSecond,
            @Schema(nullable = true) @Nullable Double bytesRead,
            @Schema(nullable = true) @Nullable Integer parallel,
            @Schema(nullable = true) @Nullable String schedule,
            @Schema(nullable = true) @Nullable String verdict,
            double spillSeconds,
            List<Place> places,
            boolean demanded,
            List<String> broken,
            String uncounted,
            String message,
            @Schema(nullable = true) @Nullable Folded folded) {}

    /**
     * Runs that failed of one cause, for which the newest stands.
     *
     * @param runs how many, itself among them
     * @param first when the first of them began
     */
    public record Folded(int runs, Instant first) {}

    /**
     * A figure, with the median of like ones before it and how far those were mostly from it; null where too few are known.
     *
     * @param weekday the day all of them began on; null where on any
     */
    public record Figure(
            double own,
            @Schema(nullable = true) @Nullable Double median,
            @Schema(nullable = true) @Nullable Double spread,
            int of,
            @Schema(nullable = true) @Nullable String weekday,
            boolean unusual) {}

    /** Where a copy lies, and whether it is {@code there}, {@code gone} or {@code spoiled}. */
    public record Place(String store, String name, String state) {}

    /**
     * What one may choose among, and how many lines each choice would leave.
     *
     * @param total lines under everything chosen
     * @param complete false where only the newest were counted
     */
    public record Facets(long total, boolean complete, List<Facet> facets) {}

    /** One thing to choose by, such as the kind. */
    public record Facet(String name, List<Choice> choices) {}

    public record Choice(String value, String text, long lines) {}

    /** A run or backup by its id. */
    public record KnownId(String id, String kind, String database) {}
}
