package firth.core.model;

/** What started a run. */
public enum Trigger implements Worded {
    /** A schedule, or whoever acted in its place. */
    SCHEDULE,
    /** Somebody. */
    HAND;
}
