package firth.core.retention;

import firth.core.history.History;

/**
 * That a backup is needed because another is.
 *
 * @param as a parent, or else a log it is not consistent without
 * @param of the row of the other
 */
record Drawn(As as, int of) {

    enum As {
        PARENT("parent-of:"),
        LOG("log-for-consistency:");

        private final String word;

        As(String word) {
            this.word = word;
        }
    }

    /** In words of the exchange format. */
    String word(History history) {
        return as.word + history.id(of);
    }
}
