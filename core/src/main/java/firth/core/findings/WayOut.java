package firth.core.findings;

import firth.core.model.Kind;
import firth.core.model.Worded;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Something that was tried, in thought, against a finding: the facts with it done were evaluated (docs/semantics.md, "Ways out").
 *
 * @param kind of the backup taken, where one is
 * @param store where it is put
 * @param takes how long; zero where nothing says so
 * @param bytes how much is written; 0 where nothing says so
 * @param resumes when it is done: from then on every later moment is restorable again, if it ends the finding
 * @param ends whether the finding is gone then
 * @param stays the hole that is left behind the moment cover resumes
 * @param leaves when that hole leaves reach, where one is promised
 * @param storeName what the store is called; empty where none is
 */
public record WayOut(
        Action action,
        Optional<Kind> kind,
        String store,
        Duration takes,
        double bytes,
        Instant resumes,
        boolean ends,
        Optional<Span> stays,
        Optional<Instant> leaves,
        String storeName) {

    /** The same with what is written put into another store. */
    WayOut in(String other, String otherName) {
        return new WayOut(action, kind, other, takes, bytes, resumes, ends, stays, leaves, otherName);
    }

    /** What is done. */
    public enum Action implements Worded {
        /** The archiver takes away what has gathered. */
        CATCH_UP,
        /** A backup is taken by hand. */
        TAKE,
        /** The newest way back is copied on. */
        COPY;
    }
}
