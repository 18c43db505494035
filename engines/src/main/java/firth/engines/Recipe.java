package firth.engines;

import firth.core.model.Kind;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Stream;

/**
 * A plan in the engine's own settings and commands: a script for a POSIX shell, safe for any name, and the same in sentences.
 *
 * @param script asks for the directories of stores in variables {@code STORE_1} and so on, and for the new place as its first argument
 * @param stores the ids of those stores, in this order; none in a recipe that was kept before it said so
 * @param lines what it does, one thing a line
 */
public record Recipe(String script, List<String> stores, List<String> lines) {

    public Recipe {
        stores = Optional.ofNullable(stores).map(List::copyOf).orElseGet(List::of);
        lines = List.copyOf(lines);
    }

    /**
     * What is to be restored.
     *
     * @param database its name, for whoever reads the script
     * @param moment to stop at; empty: all of the logs given, and no further
     * @param lastCommit the last that is known in the logs
     * @param before the position in {@code lineage} to stop in front of, whatever else its logs hold: it was asked for, or another left it there
     * @param lineage the engine's own number of the log history to end in
     * @param chain the data backups from the full on
     * @param logs in the order of the log
     * @param position where the logs are to be read from, as the engine writes it, where that is known
     */
    public record Ask(
            String database,
            Optional<Instant> moment,
            Optional<Instant> lastCommit,
            OptionalLong before,
            String lineage,
            List<Part> chain,
            List<Part> logs,
            Optional<String> position) {

        public Ask {
            chain = List.copyOf(chain);
            logs = List.copyOf(logs);
        }

        /** What is restored, in words that end no sentence. */
        public String goal() {
            return database + " "
                    + moment.map(m -> "to " + Recipe.moment(m) + " UTC")
                            .orElse(
                                    logs.isEmpty()
                                            ? "to where its backup is consistent"
                                            : before.isPresent()
                                                    ? "with its logs up to a position"
                                                    : "with all of its logs");
        }

        /** Everything it reads. */
        public List<Part> parts() {
            return Stream.concat(chain.stream(), logs.stream()).toList();
        }
    }

    /**
     * A copy to read: where it lies in its store.
     *
     * @param end of a log the position it was known to hold all up to, where that is known: it may have grown since
     */
    public record Part(Kind kind, String store, String path, OptionalLong end) {

        public Part(Kind kind, String store, String path) {
            this(kind, store, path, OptionalLong.empty());
        }
    }

    /** Makes the recipes of one engine. */
    public interface Maker {

        /** Empty where what is asked for does not read as this engine's files and lineages do. */
        Optional<Recipe> recipe(Ask ask);
    }

    /** A word the shell takes as it stands, whatever is in it. */
    public static String quoted(String word) {
        return "'" + word.replace("'", "'\\''") + "'";
    }

    /** The moment as engines read it, in UTC, to the microsecond. */
    public static String moment(Instant at) {
        return DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss.SSSSSS", Locale.ROOT)
                .withZone(ZoneOffset.UTC)
                .format(at);
    }
}
