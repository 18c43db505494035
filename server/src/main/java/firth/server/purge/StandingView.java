package firth.server.purge;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** What goes by itself, as it is shown, proposed and tried. */
public final class StandingView {

    private StandingView() {}

    /**
     * What a standing purge says.
     *
     * @param obsoleteFor an ISO 8601 duration: for how long no rule must have needed a copy
     * @param copies so many a night at most
     * @param bytes so many a night at most
     * @param from when nights begin, HH:MM on the clock of the zone
     * @param to when they end, on the next day where that is no later
     * @param pausedBy how soon a finding must need somebody to let nothing go: broken, will-break, besides or housekeeping
     */
    public record Terms(
            String policy,
            String obsoleteFor,
            int copies,
            double bytes,
            String from,
            String to,
            String zone,
            String pausedBy) {}

    /** Terms that somebody proposes, and why. */
    public record StandingProposal(Terms terms, String reason) {}

    /**
     * Terms with who proposed them and put them in force.
     *
     * @param may what the one who asks may do with them: agree, withdraw
     * @param flaw why nothing goes by them though they are in force; empty where nothing stands in the way for good
     */
    public record StandingEntry(
            long num,
            Terms terms,
            String hash,
            String reason,
            String by,
            Instant at,
            @Schema(nullable = true) @Nullable String agreedBy,
            @Schema(nullable = true) @Nullable Instant agreedAt,
            List<String> may,
            String flaw) {}

    /**
     * A night and what went.
     *
     * @param purge its list; null where there is none
     * @param state how far that is; null where there is none
     * @param copies how many copies its list names
     * @param said why there is no list
     */
    public record NightRow(
            String date,
            @Schema(nullable = true) @Nullable String purge,
            @Schema(nullable = true) @Nullable String state,
            int copies,
            double bytes,
            String said) {}

    /**
     * A policy with what goes by itself of its databases.
     *
     * @param followers how many databases follow it
     * @param approvals how many approvals it asks for of each purge; with more than one nothing goes by itself
     * @param inForce null where nothing goes by itself
     * @param proposed null where nothing waits for a second person
     */
    public record StandingRow(
            String policy,
            String name,
            int followers,
            int approvals,
            @Schema(nullable = true) @Nullable StandingEntry inForce,
            @Schema(nullable = true) @Nullable StandingEntry proposed,
            List<NightRow> nights) {}

    /** The hash of what was seen. */
    public record StandingSeen(String hash) {}

    /** The number of what was proposed. */
    public record Proposed(long num) {}

    /**
     * What one night would have taken.
     *
     * @param pausedBy the title of a finding that would have let nothing go; empty where there was none
     */
    public record TrialNight(String date, Instant opens, int copies, double bytes, String pausedBy) {}

    /** A copy that would have gone. */
    public record TrialCopy(
            String date,
            String database,
            String name,
            String backup,
            String kind,
            String storeName,
            double bytes,
            String why) {}

    /**
     * What a rule would have done in the nights that were.
     *
     * @param databases how many databases were looked at
     * @param others how many more follow the policy
     * @param left what is obsolete for long enough now, beside what would have gone
     * @param flaws what of today's rules and promises would be harmed, had that gone; empty: nothing
     * @param first some of the copies, the first first
     */
    public record Trial(
            List<TrialNight> nights,
            int copies,
            double bytes,
            int databases,
            int others,
            int left,
            double leftBytes,
            List<String> flaws,
            List<TrialCopy> first) {}
}
