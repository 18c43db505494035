package firth.server.gaps;

import firth.server.platform.SearchWords;
import jakarta.ws.rs.QueryParam;
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

    boolean fits(GapsView.GapRow row) {
        return (isEmpty(state) || row.gap().state().equals(state))
                && (isEmpty(reach) || row.inside() == "inside".equals(reach))
                && SearchWords.of(words)
                        .areIn(Stream.of(
                                row.name(),
                                row.database(),
                                row.policy(),
                                row.storeName(),
                                row.gap().cause(),
                                row.gap().bridgedBy()));
    }

    private static boolean isEmpty(@Nullable String text) {
        return text == null || text.isEmpty();
    }
}
