package firth.core.model;

/** What started a run. */
public enum Trigger {
    /** A schedule, or whoever acted in its place. */
    SCHEDULE,
    /** Somebody. */
    HAND;

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
