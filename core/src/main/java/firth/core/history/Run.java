package firth.core.history;

import java.time.Instant;
import java.util.Optional;

/**
 * One attempt at a backup.
 *
 * @param ended absent while it runs
 * @param rest what else was said of it, as text of the exchange format; never used, always given back
 */
public record Run(
        String id,
        String database,
        Kind kind,
        Instant started,
        Optional<Instant> ended,
        Outcome outcome,
        Optional<String> message,
        String rest) {}
