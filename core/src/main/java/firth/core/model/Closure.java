package firth.core.model;

import firth.core.time.Span;
import java.util.Optional;

/** A declared exception from the schedules of a policy or a database: its slots are excused. */
public record Closure(String id, Optional<String> policy, Optional<String> database, Span span, String reason)
        implements FleetRecord {}
