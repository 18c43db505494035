package firth.core.evaluation;

import firth.core.cover.Piece;
import firth.core.model.Database;
import firth.core.time.RunningTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How far back every moment can be restored.
 *
 * @param target what is promised
 * @param achieved from the recovery point back without a hole; zero where nothing is restorable
 * @param since the moment the promised reach begins at now
 * @param cover share of the promised reach that is restorable
 */
public record Reach(Optional<Duration> target, Duration achieved, Optional<Instant> since, Optional<Double> cover) {

    /** Nobody plans for what comes later than this. */
    private static final Duration FORESEEN = Duration.ofDays(36_525);

    /**
     * The reach at a moment (docs/semantics.md, "Reach and grade").
     *
     * @param restorable what can be restored then, in order
     * @param point the recovery point; empty where nothing can be restored
     * @param tailCounts whether the time since the recovery point counts as held
     */
    public static Reach of(
            Optional<Duration> target,
            List<Piece> restorable,
            Optional<Instant> point,
            boolean tailCounts,
            Database database,
            Instant now) {
        Duration achieved =
                point.map(p -> Duration.between(withoutHole(restorable, p), p)).orElse(Duration.ZERO);
        Optional<Instant> since =
                target.map(t -> Instant.ofEpochMilli(database.clock().before(now.toEpochMilli(), t.toMillis())));
        return new Reach(
                target,
                achieved,
                since,
                since.map(w -> point.isEmpty()
                        ? 0
                        : share(
                                restorable,
                                Math.max(
                                        w.toEpochMilli(),
                                        database.inServiceFrom().toEpochMilli()),
                                now.toEpochMilli(),
                                tailCounts ? point.get().toEpochMilli() : now.toEpochMilli())));
    }

    /** The earliest instant from which on every one up to {@code point} can be restored. */
    private static Instant withoutHole(List<Piece> restorable, Instant point) {
        Instant from = point;
        for (int p = restorable.size() - 1; p >= 0; p--) {
            Piece piece = restorable.get(p);
            if (piece.from().isBefore(from) && !piece.to().isBefore(from)) {
                from = piece.from();
            }
        }
        return from;
    }

    /** The share of the time from {@code begin} on that can be restored; the tail counts from where it is said to. */
    private static double share(List<Piece> restorable, long begin, long now, long tail) {
        long covered = 0;
        for (Piece piece : restorable) {
            long from = Math.max(begin, piece.from().toEpochMilli());
            covered += Math.max(0, piece.to().toEpochMilli() - from);
        }
        covered += now - Math.max(begin, tail);
        return begin >= now ? 1 : (double) covered / (now - begin);
    }

    /**
     * When a moment passes out of the promised reach: once the database has run as long as is promised since, as far as its stops are
     * known.
     *
     * @param clock the database's own
     * @return empty where no reach is promised, or it comes never, or more than a hundred years later
     */
    public Optional<Instant> leaves(Instant moment, RunningTime clock) {
        return target.map(t -> clock.after(moment.toEpochMilli(), t.toMillis()))
                .filter(at -> at - moment.toEpochMilli() <= FORESEEN.toMillis())
                .map(Instant::ofEpochMilli);
    }
}
