package firth.core.model;

/** How a run ended, or that it has not. */
public enum Outcome {
    OK,
    FAILED,
    CANCELLED,
    RUNNING;

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
