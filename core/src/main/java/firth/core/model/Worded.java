package firth.core.model;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** A constant of an enum that is written outside as a word: in files, answers and the API. */
public interface Worded {

    String name();

    /** As it is written outside: lower case, words joined by hyphens. */
    default String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** The constant of a word; empty where the enum has none. */
    static <E extends Enum<E> & Worded> Optional<E> find(Class<E> type, String word) {
        return Arrays.stream(type.getEnumConstants())
                .filter(e -> e.word().equals(word))
                .findFirst();
    }

    /**
     * The constant of a word that was written by Firth.
     *
     * @throws IllegalArgumentException where the enum has none
     */
    static <E extends Enum<E> & Worded> E of(Class<E> type, String word) {
        return find(type, word)
                .orElseThrow(() -> new IllegalArgumentException(word + " is no " + type.getSimpleName()));
    }
}
