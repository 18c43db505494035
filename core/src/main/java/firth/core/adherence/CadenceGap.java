package firth.core.adherence;

import java.time.Instant;
import java.util.Optional;

/**
 * Logs came further apart than promised.
 *
 * @param to the next landing, absent while none has come
 * @param policy and its version, whose schedule asked for more
 * @param lastLog the log that landed last before, absent where none had
 * @param nextLog the log that landed then
 * @param missed how many landings were due in between
 */
public record CadenceGap(
        String policy,
        int version,
        String schedule,
        String stream,
        Instant from,
        Optional<Instant> to,
        Optional<String> lastLog,
        Optional<String> nextLog,
        long missed) {}
