package firth.server.platform;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Words somebody typed to find something by: what is found holds each of them somewhere, in capitals or not. */
public final class SearchWords {

    private static final int MOST = 8;

    private final List<String> words;

    private SearchWords(List<String> words) {
        this.words = words;
    }

    /** @param text words with blanks between them; those beyond the first {@value #MOST} are left out; absent or empty: all is found */
    public static SearchWords of(@Nullable String text) {
        return new SearchWords(
                split(text).stream().map(w -> w.toLowerCase(Locale.ROOT)).toList());
    }

    /** The words of a text as they were typed, the first {@value #MOST} of them. */
    public static List<String> split(@Nullable String text) {
        return Arrays.stream((text == null ? "" : text).split("\\s+"))
                .filter(w -> !w.isEmpty())
                .limit(MOST)
                .toList();
    }

    /** Whether each word stands somewhere in some texts. */
    public boolean areIn(Stream<? extends @Nullable String> texts) {
        if (words.isEmpty()) {
            return true;
        }
        String all =
                texts.filter(Objects::nonNull).collect(Collectors.joining(" ")).toLowerCase(Locale.ROOT);
        return words.stream().allMatch(all::contains);
    }
}
