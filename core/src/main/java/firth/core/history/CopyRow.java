package firth.core.history;

import firth.core.model.Evidence;

/**
 * A copy as it is added to a history: moments are milliseconds since the epoch. Start with {@link #landed} and say what else is known.
 *
 * @param statedLanding whether somebody said when it landed; of others it is when the backup ended
 * @param lockedUntilMs {@link History#ALWAYS} where it never was locked
 * @param goneMs when it was deleted; {@link History#NEVER} where it was not
 * @param foundMs when it was found spoiled; {@link History#NEVER} where it was not
 * @param sinceMs since when a spoiled copy is; {@link History#ALWAYS} where that is not known
 * @param bytes what it takes up; NaN where that is not known
 * @param evidence how its times and positions are known
 */
public record CopyRow(
        long landedMs,
        boolean statedLanding,
        long lockedUntilMs,
        long goneMs,
        long foundMs,
        long sinceMs,
        double bytes,
        Evidence evidence) {

    /** One that is known from what was told alone. */
    public CopyRow(
            long landedMs,
            boolean statedLanding,
            long lockedUntilMs,
            long goneMs,
            long foundMs,
            long sinceMs,
            double bytes) {
        this(landedMs, statedLanding, lockedUntilMs, goneMs, foundMs, sinceMs, bytes, Evidence.TOLD);
    }

    /** A copy that is said to have landed at a moment, neither locked nor gone nor spoiled. */
    public static CopyRow landed(long atMs, double bytes) {
        return new CopyRow(atMs, true, History.ALWAYS, History.NEVER, History.NEVER, History.ALWAYS, bytes);
    }

    /** The same, locked until a moment. */
    public CopyRow locked(long untilMs) {
        return new CopyRow(landedMs, statedLanding, untilMs, goneMs, foundMs, sinceMs, bytes, evidence);
    }

    /** The same, deleted at a moment. */
    public CopyRow gone(long atMs) {
        return new CopyRow(landedMs, statedLanding, lockedUntilMs, atMs, foundMs, sinceMs, bytes, evidence);
    }

    /** The same, found spoiled at a moment. */
    public CopyRow spoiled(long found, long since) {
        return new CopyRow(landedMs, statedLanding, lockedUntilMs, goneMs, found, since, bytes, evidence);
    }
}
