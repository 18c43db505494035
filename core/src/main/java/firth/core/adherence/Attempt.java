package firth.core.adherence;

import firth.core.history.Kind;
import java.time.Instant;
import java.util.Optional;

/**
 * A run as known now; one that ends later is still running.
 *
 * @param ended absent while it runs
 */
public record Attempt(String id, Kind kind, Instant started, Optional<Instant> ended, State state) {

    /** How far it has come. */
    public enum State {
        OK,
        UNSUCCESSFUL,
        RUNNING
    }

    public boolean ok() {
        return state == State.OK;
    }
}
