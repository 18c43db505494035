package firth.exchange;

import firth.core.time.Recurrence;

/** A recurrence as somebody writes it: an RFC 5545 rule or a five-field cron line. */
public final class WrittenRecurrence {

    private WrittenRecurrence() {}

    /**
     * Reads either; a rule is told by its {@code FREQ=}.
     *
     * @throws IllegalArgumentException with what is wrong with it, as the end of a sentence
     */
    public static Recurrence read(String written) {
        return written.toUpperCase(java.util.Locale.ROOT).contains("FREQ=")
                ? Recurrences.rule(written.strip())
                : Recurrences.cron(written.strip());
    }
}
