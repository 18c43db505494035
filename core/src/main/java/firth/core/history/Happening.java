package firth.core.history;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Supplier;

/**
 * Something that happened to a database's backups or runs at a moment.
 *
 * @param id of the backup or run
 * @param store where it happened; empty where it is not about one copy
 */
public record Happening(Instant at, What what, Kind kind, String id, Optional<String> store) {

    /** What can happen. */
    public enum What {
        BEGAN,
        ENDED,
        FAILED,
        LANDED,
        WENT,
        FOUND_SPOILED
    }

    /** The first that happened after a moment, and not after another. */
    public static Optional<Happening> after(History history, Instant moment, Instant until) {
        return new Search(history, moment.toEpochMilli(), until.toEpochMilli(), true).run();
    }

    /** The last that happened before a moment. */
    public static Optional<Happening> before(History history, Instant moment) {
        return new Search(history, moment.toEpochMilli(), Long.MAX_VALUE, false).run();
    }

    /** Looks at everything once; of what happened at one moment what decides most counts: that a copy came or went. */
    private static final class Search {
        private final History history;
        private final long moment;
        private final long until;
        private final boolean on;
        private Optional<Happening> best = Optional.empty();

        Search(History history, long moment, long until, boolean on) {
            this.history = history;
            this.moment = moment;
            this.until = until;
            this.on = on;
        }

        Optional<Happening> run() {
            for (int i = 0; i < history.size(); i++) {
                see(history.startedMs(i), What.BEGAN, i, OptionalInt.empty());
                see(history.endedMs(i), What.ENDED, i, OptionalInt.empty());
                for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                    see(history.landedMs(c), What.LANDED, i, OptionalInt.of(c));
                    see(history.goneMs(c), What.WENT, i, OptionalInt.of(c));
                    see(history.foundMs(c), What.FOUND_SPOILED, i, OptionalInt.of(c));
                }
            }
            for (Run r : history.runs()) {
                see(r.started().toEpochMilli(), () -> of(r, r.started(), What.BEGAN));
                r.ended()
                        .ifPresent(e -> see(
                                e.toEpochMilli(),
                                () -> of(r, e, r.outcome() == Outcome.FAILED ? What.FAILED : What.ENDED)));
            }
            return best;
        }

        private static Happening of(Run r, Instant at, What what) {
            return new Happening(at, what, r.kind(), r.id(), Optional.empty());
        }

        private void see(long at, What what, int row, OptionalInt copy) {
            see(
                    at,
                    () -> new Happening(
                            Instant.ofEpochMilli(at),
                            what,
                            history.kind(row),
                            history.id(row),
                            copy.isPresent() ? Optional.of(history.store(copy.getAsInt())) : Optional.empty()));
        }

        private void see(long at, Supplier<Happening> happening) {
            if (at == History.NEVER || (on ? at <= moment || at > until : at >= moment)) {
                return;
            }
            long known = best.map(b -> b.at().toEpochMilli()).orElse(on ? Long.MAX_VALUE : Long.MIN_VALUE);
            if (on ? at < known : at > known) {
                best = Optional.of(happening.get());
            } else if (at == known) {
                Happening other = happening.get();
                best = best.filter(b -> b.what().compareTo(other.what()) >= 0).or(() -> Optional.of(other));
            }
        }
    }
}
