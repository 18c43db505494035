package firth.agent;

import java.time.Instant;
import java.util.Optional;

/**
 * What keeps a file from being deleted.
 *
 * @param until the end of it, for {@link Manner#UNTIL} alone
 */
public record Lock(Manner manner, Optional<Instant> until) {

    /** How. */
    public enum Manner {
        /** The store does not tell. */
        UNKNOWN("unknown"),
        /** Nothing does. */
        NONE("none"),
        /** The store, until a moment it states. */
        UNTIL("until"),
        /** An attribute of the file or its directory, for as long as nobody takes it off. */
        IMMUTABLE("immutable"),
        /** It is mounted to be read only, for as long as it is. */
        READ_ONLY("read-only");

        private final String word;

        Manner(String word) {
            this.word = word;
        }

        public String word() {
            return word;
        }
    }

    public static final Lock UNKNOWN = new Lock(Manner.UNKNOWN, Optional.empty());
    public static final Lock NONE = new Lock(Manner.NONE, Optional.empty());
    static final Lock IMMUTABLE = new Lock(Manner.IMMUTABLE, Optional.empty());
    static final Lock READ_ONLY = new Lock(Manner.READ_ONLY, Optional.empty());

    public static Lock until(Instant end) {
        return new Lock(Manner.UNTIL, Optional.of(end));
    }

    /** Whether it keeps a file at a moment. */
    boolean holdsAt(Instant now) {
        return manner == Manner.IMMUTABLE
                || manner == Manner.READ_ONLY
                || until.filter(now::isBefore).isPresent();
    }

    /** Such as {@code locked until 2026-12-01T00:00:00Z}. */
    String told() {
        return until.map(u -> "locked until " + u)
                .orElse(
                        manner == Manner.READ_ONLY
                                ? "the store is mounted to be read only"
                                : "its attribute says immutable");
    }
}
