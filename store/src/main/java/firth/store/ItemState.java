package firth.store;

import firth.core.model.Worded;

/** What became of one copy of a list. */
public enum ItemState implements Worded {
    WAITING,
    /** An agent has it and has not told yet. */
    HANDED,
    DELETED,
    /** It was not there when the agent came for it. */
    MISSING,
    /** The store refused, since it is locked. */
    LOCKED,
    FAILED,
    /** Left out before it was handed to anybody, since it is no longer safe or no longer obsolete. */
    DROPPED,
    CANCELLED;

    static ItemState of(String word) {
        return Worded.of(ItemState.class, word);
    }

    /** Whether something is still to become of it. */
    public boolean isOpen() {
        return this == WAITING || this == HANDED;
    }
}
