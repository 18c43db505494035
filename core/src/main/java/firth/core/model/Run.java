package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * One attempt at a backup.
 *
 * @param trigger what started it, where that was said
 * @param slot the slot it was made for, where it names one
 * @param ended absent while it runs
 * @param rest what else was said of it, as text of the exchange format; never used, always given back
 */
public record Run(
        String id,
        String database,
        Kind kind,
        Optional<Trigger> trigger,
        Optional<NamedSlot> slot,
        Instant started,
        Optional<Instant> ended,
        Outcome outcome,
        Optional<String> message,
        String rest) {

    /** One of which nobody said what started it. */
    public Run(
            String id,
            String database,
            Kind kind,
            Instant started,
            Optional<Instant> ended,
            Outcome outcome,
            Optional<String> message,
            String rest) {
        this(id, database, kind, Optional.empty(), Optional.empty(), started, ended, outcome, message, rest);
    }
}
