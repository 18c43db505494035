package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/** A copy was found missing or corrupt; without {@code since} it never was usable. */
public record Spoilage(Instant found, Optional<Instant> since) {}
