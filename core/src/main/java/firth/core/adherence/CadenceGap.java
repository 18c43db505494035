package firth.core.adherence;

import java.time.Instant;
import java.util.Optional;

/**
 * Logs came further apart than promised.
 *
 * @param to the next landing, absent while none has come
 * @param missed how many landings were due in between
 */
public record CadenceGap(String schedule, String stream, Instant from, Optional<Instant> to, long missed) {}
