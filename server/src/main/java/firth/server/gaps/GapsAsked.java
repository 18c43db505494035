package firth.server.gaps;

import firth.server.platform.AskedWord;
import firth.server.platform.BadRequest;
import firth.server.platform.SearchWords;
import jakarta.ws.rs.QueryParam;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Which gaps are asked for; what is empty asks for all. */
public final class GapsAsked {

    @QueryParam("asOf")
    @Nullable
    String asOf;

    @QueryParam("period")
    @Nullable
    String period;

    /** In databases, policies, stores, causes and what bridges. */
    @QueryParam("words")
    @Nullable
    String words;

    /** {@code open}, {@code unbridged} or {@code bridged}. */
    @QueryParam("state")
    @Nullable
    String state;

    /** {@code inside} or {@code beyond} the promised reach. */
    @QueryParam("reach")
    @Nullable
    String reach;

    private enum State {
        OPEN,
        UNBRIDGED,
        BRIDGED
    }

    private enum Reach {
        INSIDE,
        BEYOND
    }

    /**
     * Says of a gap whether it is asked for.
     *
     * @throws BadRequest where a word is not known
     */
    Predicate<GapsView.GapRow> asked() {
        Optional<State> wanted = AskedWord.given(State.class, "state", state);
        Optional<Reach> within = AskedWord.given(Reach.class, "reach", reach);
        SearchWords search = SearchWords.of(words);
        return row -> wanted.filter(w -> !w.name().equalsIgnoreCase(row.gap().state()))
                        .isEmpty()
                && within.filter(w -> row.inside() != (w == Reach.INSIDE)).isEmpty()
                && search.areIn(Stream.of(
                        row.name(),
                        row.database(),
                        row.policy(),
                        row.storeName(),
                        row.gap().cause(),
                        row.gap().bridgedBy()));
    }
}
