package firth.core.time;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;

/**
 * A rule that says when something recurs on the clock of a place (docs/semantics.md, "Slots"). A local time that does
 * not exist moves forward by the length of the jump; one that occurs twice counts once, the first.
 */
public interface Recurrence {

    /**
     * The occurrences in {@code [from, to)}, ascending, each once.
     *
     * @param start the local date from which intervals are counted
     */
    List<Instant> between(LocalDate start, ZoneId zone, Instant from, Instant to);

    /** The rule as somebody wrote it, where anybody did. */
    default String written() {
        return "";
    }
}
