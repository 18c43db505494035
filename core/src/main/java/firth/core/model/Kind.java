package firth.core.model;

/** Kinds of backup. Fulls, differentials and incrementals are data backups. */
public enum Kind implements Worded {
    FULL,
    DIFF,
    INCR,
    LOG,
    CONFIG;

    public boolean isData() {
        return this == FULL || this == DIFF || this == INCR;
    }
}
