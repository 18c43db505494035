package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * That a person takes responsibility for a finding for a while. It comes back by itself.
 *
 * @param finding the key of the finding
 * @param reason why it is borne
 * @param at from when on
 * @param until when it comes back
 * @param withdrawn when somebody called it back earlier
 */
public record Accept(
        String id, String finding, String reason, String by, Instant at, Instant until, Optional<Instant> withdrawn)
        implements FleetRecord {

    @Override
    public boolean isJudgedBy() {
        return false;
    }

    /** Whether it holds at a moment: from {@code at} on, up to and without its end. */
    public boolean holdsAt(Instant moment) {
        return !at.isAfter(moment)
                && moment.isBefore(until)
                && withdrawn.filter(w -> !w.isAfter(moment)).isEmpty();
    }
}
