package firth.runner.drills;

import firth.runner.Settings;
import firth.runner.Trouble;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** What an engine, and whoever owns the database, say of what was restored. */
final class Proof {

    private Proof() {}

    /**
     * Asks for it.
     *
     * @param moment nothing in it may be later
     * @param checks takes each thing that was found to be so
     * @throws Trouble where something is not
     */
    static void of(Scratch scratch, Instant moment, List<Settings.Query> queries, Consumer<String> checks)
            throws Trouble, InterruptedException {
        Optional<Instant> last = scratch.lastChange();
        if (last.filter(l -> l.isAfter(moment)).isPresent()) {
            throw new Trouble("the engine went past the moment: its last change is of " + last.get());
        }
        last.ifPresent(l -> checks.accept("by the engine its last change is of " + l + ", not after the moment"));
        checks.accept(scratch.check());
        for (Settings.Query query : queries) {
            Optional<String> first = scratch.first(query.in(), query.sql());
            if (first.filter(v -> !v.matches("(?i)f|false|0|")).isEmpty()) {
                throw new Trouble(
                        "what its owner asks is not so: " + query.sql() + " gives " + first.orElse("nothing"));
            }
            checks.accept(query.sql() + ": " + first.get());
        }
    }
}
