package firth.server.reports;

import firth.server.cover.Cover;
import firth.server.database.DatabaseView;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What was promised, achieved, missed, deleted, tested and accepted. Durations in seconds, sizes in bytes.
 *
 * @param by fleet, policy, owner, label or database
 * @param of which one; empty for the fleet
 * @param asOf what was known then is what it says
 * @param notes what to know before reading on: that a period is not over, or empty
 */
public record ReportView(
        String by,
        String of,
        String title,
        Instant from,
        Instant to,
        Instant asOf,
        List<String> notes,
        List<ReportRow> rows,
        List<ReportBreach> breaches,
        List<ReportGap> gaps,
        List<ReportDrill> drills,
        List<ReportPurge> purges,
        List<ReportAccept> accepted,
        List<ReportPolicy> policies,
        List<ReportChange> changes) {

    /**
     * One database, as it stood at the end of the period.
     *
     * @param grade as it is said, with the hazard where that is not a mishap
     * @param gradeToday the same as of the report's own moment, where it differs
     * @param onboardingUntil when it was taken on, where that fell into the period; no promise is judged before
     * @param evidence how the least known of the copies that way back reads is; null where nothing can be restored
     * @param ages the greatest age after a mishap in slices of the period
     */
    public record ReportRow(
            String database,
            String name,
            String zone,
            @Schema(nullable = true) @Nullable String policy,
            String grade,
            @Schema(nullable = true) @Nullable String gradeToday,
            @Schema(nullable = true) @Nullable Instant onboardingUntil,
            List<Kept> kept,
            @Schema(nullable = true) @Nullable Double reachPromised,
            double reach,
            @Schema(nullable = true) @Nullable Double reachCover,
            int slots,
            int onTime,
            int late,
            int overran,
            int failed,
            int missed,
            int excused,
            int logsMissed,
            int gapsOpen,
            int gapsBridged,
            @Schema(nullable = true) @Nullable Double restorePromised,
            @Schema(nullable = true) @Nullable Double restore,
            @Schema(nullable = true) @Nullable String evidence,
            @Schema(nullable = true) @Nullable Instant proved,
            @Schema(nullable = true) @Nullable Instant drillDue,
            int obsolete,
            double obsoleteBytes,
            @Schema(nullable = true) @Nullable String copiesRule,
            int copiesPending,
            List<Cover.Water> water,
            List<DatabaseView.AgeSlice> ages) {}

    /**
     * How one promise was kept.
     *
     * @param before the same over as long a period before
     */
    public record Kept(
            String hazard,
            @Schema(nullable = true) @Nullable Double promised,
            double worst,
            double median,
            double p95,
            double p99,
            @Schema(nullable = true) @Nullable Double attainment,
            int breaches,
            Before before) {}

    public record Before(
            double worst, @Schema(nullable = true) @Nullable Double attainment, int breaches) {}

    public record ReportBreach(
            String database, String name, String hazard, Instant from, Instant to, double worst, String cause) {}

    public record ReportGap(
            String database,
            String name,
            String stream,
            @Schema(nullable = true) @Nullable Instant after,
            @Schema(nullable = true) @Nullable Instant before,
            boolean bridged,
            String cause) {}

    public record ReportDrill(
            String database,
            String name,
            Instant at,
            String outcome,
            @Schema(nullable = true) @Nullable Double took,
            List<String> checks,
            String message) {}

    /**
     * Copies deleted in the period.
     *
     * @param hash the last entry of the record about it
     */
    public record ReportPurge(
            String id,
            String where,
            String askedBy,
            List<String> approvedBy,
            Instant at,
            String state,
            int deleted,
            double bytes,
            long entry,
            String hash) {}

    public record ReportAccept(String finding, String by, String reason, Instant at, Instant until) {}

    public record ReportPolicy(String id, String name, int version, Instant from, String promise) {}

    public record ReportChange(Instant at, String text) {}

    /** A report that is kept. */
    public record KeptReport(String id, String title, String by, Instant made, Instant from, Instant to) {}

    /** Whether a report made again is the same; if not, what facts that came later changed. */
    public record Again(boolean same, List<String> differs) {}
}
