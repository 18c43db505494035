package firth.core.cover;

import java.time.Instant;

/** A stretch of instants that can be restored, both ends included; an instant on its own has {@code from = to}. */
public record Piece(String lineage, Instant from, Instant to) {

    public boolean isPoint() {
        return from.equals(to);
    }
}
