package firth.demo.live;

import java.util.Optional;

/**
 * Something that can be broken.
 *
 * @param title what somebody presses to break it
 * @param shows what Firth then says, and where
 * @param mend puts it right again; empty: nobody can
 */
record Fault(String id, String title, String shows, Act breaking, Optional<Act> mend) {

    /** What is done to a server, a store or a program; its message says why it could not be. */
    interface Act {
        void carryOut() throws Exception;
    }
}
