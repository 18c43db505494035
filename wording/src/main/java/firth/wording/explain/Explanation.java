package firth.wording.explain;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Why something is as Firth says: an answer in a sentence, the facts it rests on, and the rule.
 *
 * @param facts in the order they matter
 * @param rule what the rule says, in a sentence
 * @param section where docs/semantics.md states it
 */
public record Explanation(String title, List<Phrase> answer, List<Fact> facts, String rule, String section) {

    /** A part of a sentence: words, or a value a reader sees in their own manner of writing. */
    public record Phrase(Optional<String> words, Optional<Instant> moment, Optional<Long> durationMs) {

        static Phrase words(String text) {
            return new Phrase(Optional.of(text), Optional.empty(), Optional.empty());
        }

        static Phrase at(Instant moment) {
            return new Phrase(Optional.empty(), Optional.of(moment), Optional.empty());
        }

        static Phrase lasting(long ms) {
            return new Phrase(Optional.empty(), Optional.empty(), Optional.of(ms));
        }
    }

    /**
     * A fact an answer rests on.
     *
     * @param label what it is
     * @param id the id of the record it comes from, where there is one
     */
    public record Fact(String label, Optional<String> id, Optional<Instant> at, String note) {}
}
