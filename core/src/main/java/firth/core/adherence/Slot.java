package firth.core.adherence;

import firth.core.model.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * One expected run: it may start from {@code open} until {@code close}.
 *
 * @param version of the policy that asked for it
 * @param runs the attempts that belong to it, in the order they started
 * @param grounds what else its verdict rests on: what superseded or excused it
 * @param spill how long its data runs ran outside the open hours
 */
public record Slot(
        String policy,
        int version,
        String schedule,
        Kind kind,
        Instant open,
        Instant close,
        SlotVerdict verdict,
        List<Attempt> runs,
        Duration spill,
        List<Ground> grounds) {

    /** A fact beside its own runs: a run of another slot, another slot, a closure, a stretch of stopped time. */
    public record Ground(FactKind what, Optional<String> id, Instant at) {

        /** What kind of fact. */
        public enum FactKind {
            RUN,
            SLOT,
            CLOSURE,
            STOPPED
        }
    }

    public Slot {
        runs = List.copyOf(runs);
        grounds = List.copyOf(grounds);
    }
}
