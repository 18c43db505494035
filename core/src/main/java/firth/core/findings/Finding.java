package firth.core.findings;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Something wrong.
 *
 * @param code what kind of thing, the same for every database it befalls
 * @param text what is wrong and what it costs, in a sentence
 * @param action what ends it
 * @param facts the ids of the records it rests on
 */
public record Finding(
        String code, Severity severity, Optional<Instant> since, String text, String action, List<String> facts) {

    public Finding {
        facts = List.copyOf(facts);
    }

    /** How it ranks among others, the worst first. */
    public enum Severity {
        /** Records contradict one another. */
        CONTRADICTION;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }
}
