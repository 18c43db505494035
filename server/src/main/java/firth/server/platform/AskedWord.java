package firth.server.platform;

import firth.core.model.Hazard;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** A word of a request that stands for one of a few values. */
public final class AskedWord {

    private AskedWord() {}

    /**
     * The value a word stands for: its name in small letters.
     *
     * @param field as it is named in the request
     * @throws BadRequest where it is none of them
     */
    public static <E extends Enum<E>> E of(Class<E> type, String field, String word) {
        return of(type, e -> e.name().toLowerCase(Locale.ROOT), field, word);
    }

    /** The same where it may be left out: absent or empty, nothing in particular is asked for. */
    public static <E extends Enum<E>> Optional<E> given(Class<E> type, String field, @Nullable String word) {
        return Optional.ofNullable(word).filter(w -> !w.isEmpty()).map(w -> of(type, field, w));
    }

    /** The hazard a request is about. */
    public static Hazard hazard(String word) {
        return of(Hazard.class, Hazard::field, "hazard", word);
    }

    private static <E extends Enum<E>> E of(Class<E> type, Function<E, String> name, String field, String word) {
        return Arrays.stream(type.getEnumConstants())
                .filter(e -> name.apply(e).equals(word))
                .findFirst()
                .orElseThrow(() -> new BadRequest(
                        field,
                        "is none of "
                                + Arrays.stream(type.getEnumConstants())
                                        .map(name)
                                        .collect(Collectors.joining(", "))));
    }
}
