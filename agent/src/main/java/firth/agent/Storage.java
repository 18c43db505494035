package firth.agent;

import java.io.IOException;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Consumer;

/** A store as its agent can get at it: a directory, a mount, or another kind. */
public interface Storage {

    /**
     * Something that lies here.
     *
     * @param path from the root, beginning with a slash
     * @param size in bytes; empty where it cannot be looked at, as behind a link
     * @param checksum {@code sha256:...}; empty where it was not asked for
     */
    record Entry(String path, OptionalLong size, Instant time, Optional<String> checksum, Lock lock) {}

    /**
     * What is to be deleted.
     *
     * @param deed what names this deletion among all others
     * @param bytes what it takes up, with all its members; 0 where that is not known
     * @param checksum what it adds up to, as {@code sha256:...}; any other is not looked at
     */
    record Doomed(String deed, String path, long bytes, String checksum) {}

    /** @param text the reason, where it was not deleted */
    record Outcome(Word word, long freed, String text) {

        enum Word {
            DELETED,
            MISSING,
            LOCKED,
            FAILED
        }

        static Outcome of(Word word, String text) {
            return new Outcome(word, 0, text);
        }

        static Outcome failed(String text) {
            return of(Word.FAILED, text);
        }
    }

    /** @param writable empty: the agent is not to try */
    record Room(long freeBytes, long capacityBytes, Optional<Boolean> writable, Lock.Manner locks, String trouble) {}

    /**
     * Tells of everything that lies here.
     *
     * @param sums whether every file is read through
     * @throws IOException where part of it cannot be looked at: what was not seen must not be taken for missing
     */
    void list(boolean sums, Consumer<Entry> to) throws IOException, InterruptedException;

    /** Deletes what lies at a path, where it is what was written there; a note stands before anything is gone. */
    Outcome delete(Doomed what, Intents intents) throws IOException, InterruptedException;

    /** Puts right what was being deleted when the agent died: what was not found to be right is back in its place, the rest goes. */
    void recover(Intents intents) throws IOException;

    Room room() throws IOException;

    /** Lays a recovery sheet beside the backups, where a listing does not tell of it. */
    void lay(String name, String content) throws IOException;
}
