package firth.core.restore;

import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/**
 * Logs that follow each other to the end of a way, with what they come to. Ways that take the same log go on alike from there, so that
 * they share what follows it.
 *
 * @param next what follows; null at the end
 * @param timeMs of those whose time is known
 */
record Tail(int log, @Nullable Tail next, int count, long timeMs, boolean timeKnown) {

    static Tail before(@Nullable Tail next, int log, long ownMs) {
        boolean known = ownMs != Reading.UNKNOWN;
        long own = known ? ownMs : 0;
        return next == null
                ? new Tail(log, null, 1, own, known)
                : new Tail(log, next, next.count + 1, next.timeMs + own, next.timeKnown && known);
    }

    void each(IntConsumer action) {
        for (Tail at = this; at != null; at = at.next) {
            action.accept(at.log);
        }
    }
}
