package firth.core.objective;

import java.time.Instant;

/** A maximal stretch in which the age exceeded the objective in force; {@code worstMs} is the greatest age in it. */
public record Breach(Instant from, Instant to, long worstMs) {}
