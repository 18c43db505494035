package firth.store;

import firth.core.model.Worded;

/** How far a list of copies to be deleted has come. */
public enum PurgeState implements Worded {
    /** Somebody asked for it; others are to approve. */
    ASKED,
    /** All approvals are there; nothing is deleted before somebody says so. */
    APPROVED,
    /** Agents take its items, batch by batch. */
    RUNNING,
    /** No further batch is given out until somebody goes on. */
    PAUSED,
    /** It was found altered, or its proof no longer holds as a whole: nobody can go on with it. */
    STOPPED,
    CANCELLED,
    DONE;

    static PurgeState of(String word) {
        return Worded.of(PurgeState.class, word);
    }

    /** Whether nothing more will be deleted by it. */
    public boolean isOver() {
        return this == STOPPED || this == CANCELLED || this == DONE;
    }
}
