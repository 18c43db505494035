package firth.server.evaluation;

import org.jspecify.annotations.Nullable;

/**
 * What one page needs of a database's answer: small enough to be kept of every database. Each is a singleton, so that what is kept can be
 * found by its class. It may rest on the answer and on the database's own records alone; else it would outlive what it was made of.
 *
 * @param <T> a value without the history in it
 */
public interface SummaryPart<T> {

    T of(Answered one);

    /** Of a value what Watch tells: while that stays equal, Watch need not be asked for again. Null: it tells nothing of it. */
    default @Nullable Object told(T value) {
        return null;
    }
}
