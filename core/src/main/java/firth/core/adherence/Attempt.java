package firth.core.adherence;

import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import java.time.Instant;
import java.util.Optional;

/**
 * A run as known now; one that ends later is still running.
 *
 * @param byHand whether somebody started it and no schedule
 * @param slot the slot it says it was made for
 * @param ended absent while it runs
 */
public record Attempt(
        String id,
        Kind kind,
        boolean byHand,
        Optional<NamedSlot> slot,
        Instant started,
        Optional<Instant> ended,
        Progress state) {

    /** How far it has come. */
    public enum Progress {
        OK,
        UNSUCCESSFUL,
        RUNNING
    }

    public boolean ok() {
        return state == Progress.OK;
    }
}
