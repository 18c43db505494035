package firth.core.model;

/** How a run ended, or that it has not. */
public enum Outcome implements Worded {
    OK,
    FAILED,
    CANCELLED,
    RUNNING;
}
