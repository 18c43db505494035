package firth.core.model;

/** What gives way when a store is short of room. Nothing that is locked, held or of the newest way back ever does. */
public enum GivesWay implements Worded {
    /** Nothing does: new backups are refused. */
    REFUSE_NEW("refuse-new"),
    /** What no rule needs, the oldest first. */
    OBSOLETE_FIRST("obsolete-first"),
    /** What no rule needs, then what another store holds a usable copy of, the oldest first. */
    COPIED_ELSEWHERE_FIRST("copied-elsewhere-first");

    private final String word;

    GivesWay(String word) {
        this.word = word;
    }

    /** As it is written outside. */
    @Override
    public String word() {
        return word;
    }
}
