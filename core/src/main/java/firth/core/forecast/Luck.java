package firth.core.forecast;

import firth.core.adherence.Slot;
import firth.core.model.Kind;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.SortedSet;
import java.util.TreeSet;

/** How backups to come go: which of them come at all, and when. */
interface Luck {

    /** How long after its opening the run of a slot starts; empty: it comes to nothing. Asked once of each, in the order they open. */
    Optional<Duration> start(Slot slot);

    /** How a stream's logs are cut. */
    SortedSet<Long> logEnds(long from, long until, SortedSet<Long> data);

    /** When a copy of a backup comes to lie in a store; empty: never. {@code ready} is a log's end, or when another was done. */
    OptionalLong lands(Kind kind, Landing place, long ready);

    /** How far behind the server logs are that are received as they are written; empty: they come as wholes. */
    OptionalLong streamed();

    /** Every slot is kept at its opening, and logs of a day are taken together, cut where data backups begin and end. */
    Luck AS_PLANNED = new Luck() {

        @Override
        public Optional<Duration> start(Slot slot) {
            return Optional.of(Duration.ZERO);
        }

        @Override
        public SortedSet<Long> logEnds(long from, long until, SortedSet<Long> data) {
            SortedSet<Long> ends = new TreeSet<>(data.headSet(until));
            for (long day = until; day > from; day -= Ahead.DAY_MS) {
                ends.add(day);
            }
            return ends;
        }

        @Override
        public OptionalLong lands(Kind kind, Landing place, long ready) {
            return OptionalLong.of(
                    kind == Kind.LOG ? ready : ready + place.after().toMillis());
        }

        @Override
        public OptionalLong streamed() {
            return OptionalLong.empty();
        }
    };
}
