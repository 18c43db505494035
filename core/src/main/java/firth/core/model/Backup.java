package firth.core.model;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * What a successful run produced, with its copies.
 *
 * @param parent the backup a differential or incremental needs to be restored
 * @param lineage absent: the database's first
 * @param positions per stream; a log has one
 * @param times the times a log covers
 * @param consistentAt the instant a data backup restores on its own
 * @param selfContained whether it restores that instant without logs
 * @param lag how far behind a streamed log was received
 * @param rest what else was said of it, as text of the exchange format
 */
public record Backup(
        String id,
        String database,
        Kind kind,
        Optional<String> parent,
        Optional<String> run,
        Instant started,
        Instant ended,
        OptionalDouble bytes,
        Optional<String> lineage,
        Map<String, Positions> positions,
        Optional<LogTimes> times,
        Instant consistentAt,
        boolean selfContained,
        boolean streamed,
        Duration lag,
        Optional<Instant> verified,
        List<Copy> copies,
        String rest) {

    public Backup {
        positions = Map.copyOf(positions);
        copies = List.copyOf(copies);
    }

    /** The times a log covers, {@code from <= to}. */
    public record LogTimes(Instant from, Instant to) {}

    public Backup withCopies(List<Copy> other) {
        return with(other, verified);
    }

    /** How well the best known of the copies that are there at a moment is. */
    public Evidence bestKnown(Instant moment) {
        return copies.stream()
                .filter(c -> c.isThereAt(moment))
                .map(Copy::evidence)
                .max(Comparator.naturalOrder())
                .orElse(Evidence.TOLD);
    }

    /**
     * What is known of a log that is still being received: as much as came by its last sign. Any other backup as it is.
     *
     * @param lastSign when it was told of
     */
    public Backup receivedUpTo(Instant lastSign) {
        boolean ahead = streamed && times.filter(t -> t.to().isAfter(lastSign)).isPresent();
        if (!ahead) {
            return this;
        }
        Instant from = times.orElseThrow().from();
        Instant to = lastSign.isBefore(from) ? from : lastSign;
        return with(
                ended.isAfter(to) ? to : ended,
                Optional.of(new LogTimes(from, to)),
                consistentAt.isAfter(to) ? to : consistentAt,
                copies,
                verified);
    }

    /** The same backup with other copies and another moment it was verified. */
    public Backup with(List<Copy> otherCopies, Optional<Instant> otherVerified) {
        return with(ended, times, consistentAt, otherCopies, otherVerified);
    }

    private Backup with(
            Instant ended,
            Optional<LogTimes> times,
            Instant consistentAt,
            List<Copy> otherCopies,
            Optional<Instant> otherVerified) {
        return new Backup(
                id,
                database,
                kind,
                parent,
                run,
                started,
                ended,
                bytes,
                lineage,
                positions,
                times,
                consistentAt,
                selfContained,
                streamed,
                lag,
                otherVerified,
                otherCopies,
                rest);
    }
}
