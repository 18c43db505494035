package firth.store;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Which lines of history are asked for: those that began in {@code [from, asOf]}.
 *
 * @param kinds none: every kind
 * @param outcomes as they were known at {@code asOf}; none: every outcome
 * @param quietLogs whether logs that went well are among them where no kind is asked for
 * @param databases absent: all of them
 * @param store where the backup came to lie; absent: anywhere
 * @param words each must stand in an id, a message, a note or the engine's output, or be the name of a database
 */
public record EntryFilter(
        Instant from,
        Instant asOf,
        Set<Kind> kinds,
        Set<Outcome> outcomes,
        boolean quietLogs,
        Optional<Set<String>> databases,
        Optional<String> store,
        List<Word> words) {

    /** A word looked for, and the databases whose names hold it. */
    public record Word(String text, Set<String> databases) {}

    public EntryFilter {
        kinds = Set.copyOf(kinds);
        outcomes = Set.copyOf(outcomes);
        databases = databases.map(Set::copyOf);
        words = List.copyOf(words);
    }

    /** The same without what one may choose among. */
    public EntryFilter inTime() {
        return new EntryFilter(from, asOf, Set.of(), Set.of(), true, Optional.empty(), store, words);
    }

    /** Of what is asked for, the runs that failed or were cancelled; empty where none of them are. */
    public Optional<EntryFilter> unsuccessful() {
        Set<Outcome> wanted = EnumSet.of(Outcome.FAILED, Outcome.CANCELLED);
        if (!outcomes.isEmpty()) {
            wanted.retainAll(outcomes);
        }
        return wanted.isEmpty()
                ? Optional.empty()
                : Optional.of(new EntryFilter(from, asOf, kinds, wanted, quietLogs, databases, store, words));
    }

    boolean asksForBackups() {
        return outcomes.isEmpty() || outcomes.contains(Outcome.OK) || outcomes.contains(Outcome.RUNNING);
    }

    /** Whether logs that made a backup are left out. */
    boolean leavesOutLogs() {
        return kinds.isEmpty() ? !quietLogs : !kinds.contains(Kind.LOG);
    }
}
