package firth.core;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * How far back every moment can be restored.
 *
 * @param target what is promised
 * @param achieved from the recovery point back without a hole; zero where nothing is restorable
 * @param since the moment the promised reach begins at now
 * @param cover share of the promised reach that is restorable
 */
public record Reach(Optional<Duration> target, Duration achieved, Optional<Instant> since, Optional<Double> cover) {}
