package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/** From {@code from} on the database follows {@code policy}; none ends the following of any. */
public record Assignment(Optional<String> policy, Instant from) {}
