package firth.core.adherence;

import firth.core.model.Worded;

/** What became of a slot (docs/semantics.md, "Slots"). */
public enum SlotVerdict implements Worded {
    SUPERSEDED("superseded"),
    EXCUSED("excused"),
    ON_TIME("on-time"),
    OVERRAN("overran"),
    LATE("late"),
    RUNNING("running"),
    FAILED("failed"),
    RETRYING("retrying"),
    MISSED("missed"),
    DUE("due"),
    PLANNED("planned");

    private final String word;

    SlotVerdict(String word) {
        this.word = word;
    }

    @Override
    public String word() {
        return word;
    }
}
