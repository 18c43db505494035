package firth.core.adherence;

import firth.core.history.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * One expected run: it may start from {@code open} until {@code close}.
 *
 * @param runs the attempts that belong to it, in the order they started
 * @param spill how long its data runs ran outside the open hours
 */
public record Slot(
        String policy,
        String schedule,
        Kind kind,
        Instant open,
        Instant close,
        SlotVerdict verdict,
        List<Attempt> runs,
        Duration spill) {

    public Slot {
        runs = List.copyOf(runs);
    }
}
