package firth.server.policies;

import com.fasterxml.jackson.databind.JsonNode;
import firth.server.policies.PolicyDocuments.WrittenDocument;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** Policies: the list, one with its versions, and what a change of one would do. Durations in seconds. */
public final class Policies {

    private Policies() {}

    /**
     * One policy of the list.
     *
     * @param version in force now; null where none is yet
     * @param attainment mean share of the last 30 days the followers were within their mishap objective
     * @param flaws what in it contradicts itself
     */
    public record PolicyRow(
            String id,
            String name,
            @Schema(nullable = true) @Nullable Integer version,
            boolean enabled,
            @Schema(nullable = true) @Nullable Instant effectiveFrom,

            @Schema(nullable = true, implementation = WrittenDocument.class) @Nullable
            JsonNode document,

            int followers,
            List<Grades> grades,
            @Schema(nullable = true) @Nullable Double attainment,
            List<Flaw> flaws,
            @Schema(nullable = true) @Nullable Instant draftSaved,
            @Schema(nullable = true) @Nullable Instant nextFrom) {}

    public record Grades(String grade, int databases) {}

    /** One policy. */
    public record PolicyView(
            String id,
            String name,
            Instant now,
            List<VersionView> versions,
            @Schema(nullable = true) @Nullable DraftView draft,
            List<Follower> followers,
            List<ClosureView> closures) {}

    /** A stretch in which nothing of the policy is to run. */
    public record ClosureView(String id, Instant from, Instant to, String reason) {}

    /** A version; state: earlier, in-force, coming or withdrawn. */
    public record VersionView(
            int version,
            Instant effectiveFrom,
            String state,
            @Schema(implementation = WrittenDocument.class) JsonNode document) {}

    public record DraftView(
            Instant saved,
            @Schema(implementation = WrittenDocument.class) JsonNode document) {}

    /**
     * A database that follows the policy.
     *
     * @param readiness ready, waiting, unknown or not-ready
     * @param lacks what it is not ready in, a sentence each
     */
    public record Follower(
            String id, String name, String site, String zone, String grade, String readiness, List<String> lacks) {}

    /** Something that does not fit, and the smallest changes that resolve it. */
    public record Flaw(String code, String path, String text, List<WayOut> waysOut) {}

    /** One change of one value, as it is written in the document; empty where there is none. */
    public record WayOut(String path, String from, String to) {}

    /** A value that cannot be taken, or null where all can. */
    public record BadValue(String path, String reason) {}

    /**
     * How its followers have fared, and what rules make of what there is.
     *
     * @param followers of how many databases
     * @param others how many more follow
     * @param was how they fared from {@code from} to {@code to}, as it was
     * @param before copies no rule in force needs
     * @param after copies no rule as written needs
     */
    public record Replay(
            @Schema(nullable = true) @Nullable BadValue bad,
            int followers,
            int others,
            Instant from,
            Instant to,
            @Schema(nullable = true) @Nullable Fared was,
            @Schema(nullable = true) @Nullable Unneeded before,
            @Schema(nullable = true) @Nullable Unneeded after,
            List<Flaw> flaws,
            List<Takes> takes,
            @Schema(nullable = true) @Nullable Quiet quiet) {}

    /** How long a kind of data backup usually takes at the follower where it takes longest. */
    public record Takes(String kind, String database, double seconds) {}

    /** How databases fare over a stretch of time, past or to come; attainment is the mean of those that have an objective. */
    public record Fared(
            @Schema(nullable = true) @Nullable Double attainment,
            List<Worst> worst,
            int reachHeld,
            int reachAsked,
            List<String> reachMissed,
            int slotsKept,
            int slotsAsked) {}

    /** Copies no rule needs: those that may go, and those that nothing but a lock keeps. */
    public record Unneeded(
            int obsoleteCopies,
            double obsoleteBytes,
            int lockedCopies,
            double lockedBytes,
            @Schema(nullable = true) @Nullable Instant lockedUntil) {}

    /**
     * How databases will fare when their backups go as they have gone.
     *
     * @param overSeconds how far ahead that is, of the one that is looked at least far
     * @param tooNew names of those of which it is too early to tell
     * @param worse those that will fare worse as written
     * @param lost what can be restored now and could not any more as written, once what no rule needs is gone
     */
    public record Foreseen(
            double overSeconds,
            @Schema(nullable = true) @Nullable Fared before,
            Fared after,
            List<String> tooNew,
            List<Worse> worse,
            List<Lost> lost) {}

    /**
     * Moments of a database that can be restored now and could not any more.
     *
     * @param seconds how long they are together
     * @param promisedSeconds of these what lies within the reach that is promised
     * @param pieces how many stretches, or moments that stand alone
     */
    public record Lost(
            String database,
            String name,
            Instant from,
            Instant to,
            double seconds,
            double promisedSeconds,
            int pieces) {}

    /** The worst age under a hazard, at which database, and whether its objective was broken anywhere. */
    public record Worst(
            String hazard,
            double seconds,
            @Schema(nullable = true) @Nullable String database,
            boolean broken) {}

    /** A database that fares worse, and in what. */
    public record Worse(String database, String name, List<String> in) {}

    /** The next moment no follower is inside a window, and what it waits for. */
    public record Quiet(
            Instant at,
            @Schema(nullable = true) @Nullable String waitsFor,
            @Schema(nullable = true) @Nullable String schedule) {}

    /** What rules will do, day by day: the first value is now. */
    public record Ahead(
            @Schema(nullable = true) @Nullable BadValue bad,
            Instant from,
            int days,
            int unchanging,
            List<StoreAhead> stores,
            @Schema(nullable = true) @Nullable Restore restoreBefore,
            @Schema(nullable = true) @Nullable Restore restoreAfter,
            List<Miss> misses,
            @Schema(nullable = true) @Nullable Foreseen foreseen) {}

    /** The room a store will hold, and the day it runs full where it does. */
    public record StoreAhead(
            String store,
            String name,
            String role,
            @Schema(nullable = true) @Nullable Double capacityBytes,
            @Schema(nullable = true) @Nullable List<Double> before,
            List<Double> after,
            @Schema(nullable = true) @Nullable Instant fullBefore,
            @Schema(nullable = true) @Nullable Instant fullAfter) {}

    public record Restore(String database, double seconds) {}

    /** A run that will not finish in its window, from when on. */
    public record Miss(String database, String schedule, Instant open, double expectedSeconds, double allowedSeconds) {}

    /**
     * What somebody who puts a draft in force says.
     *
     * @param at now, quiet, or an instant
     * @param planned what becomes of versions that are still to come: {@code stands} or {@code withdrawn}; asked for where there are any
     */
    public record PutInForce(
            @Schema(implementation = WrittenDocument.class) JsonNode document,
            String at,
            String why,
            @Schema(nullable = true) @Nullable String despite,
            @Schema(nullable = true) @Nullable String planned) {}

    /** Why a version that is still to come is withdrawn. */
    public record Withdrawal(String why) {}

    /** Where a recurrence falls. */
    public record Occurrences(
            @Schema(nullable = true) @Nullable String problem, List<Zoned> zones) {}

    /** The next openings in a zone, and around the next change of its clock. */
    public record Zoned(
            String zone,
            List<Instant> next,
            @Schema(nullable = true) @Nullable Instant clockChange,
            List<Instant> aroundChange) {}
}
