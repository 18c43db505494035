package firth.core.time;

import java.time.Duration;
import java.time.Instant;
import java.util.Objects;

/** A half-open stretch of time {@code [from, to)}, never of negative length. */
public record Span(Instant from, Instant to) {

    public Span {
        Objects.requireNonNull(from, "from");
        Objects.requireNonNull(to, "to");
        if (to.isBefore(from)) {
            throw new IllegalArgumentException("the stretch ends (" + to + ") before it begins (" + from + ")");
        }
    }

    public Duration length() {
        return Duration.between(from, to);
    }
}
