package firth.core.model;

import firth.core.time.Recurrence;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/**
 * When runs of a kind are expected.
 *
 * @param recurrence when its slots open; absent where logs come at a plain interval
 * @param every the interval of logs
 * @param within how long after its opening a slot's run may start
 * @param mustFinish whether the run must end in that time too
 * @param grace how much earlier or later still counts
 * @param anchor the local date a rule starts at and counts its intervals from; absent: the day its version takes effect
 */
public record Schedule(
        String id,
        Kind kind,
        Optional<Recurrence> recurrence,
        Optional<Duration> every,
        Optional<Duration> within,
        boolean mustFinish,
        Duration grace,
        boolean enabled,
        Optional<LocalDate> anchor) {

    public static final Duration DEFAULT_GRACE = Duration.ofMinutes(15);

    /** A full at every occurrence of a rule. */
    public static Schedule of(String id, Recurrence recurrence, Duration within) {
        return new Schedule(
                id,
                Kind.FULL,
                Optional.of(recurrence),
                Optional.empty(),
                Optional.of(within),
                false,
                DEFAULT_GRACE,
                true,
                Optional.empty());
    }

    /** Logs at an interval. */
    public static Schedule logs(String id, Duration every) {
        return new Schedule(
                id,
                Kind.LOG,
                Optional.empty(),
                Optional.of(every),
                Optional.empty(),
                false,
                DEFAULT_GRACE,
                true,
                Optional.empty());
    }

    public Schedule withEvery(Duration interval) {
        return new Schedule(id, kind, recurrence, Optional.of(interval), within, mustFinish, grace, enabled, anchor);
    }

    public Schedule withWithin(Duration window) {
        return new Schedule(id, kind, recurrence, every, Optional.of(window), mustFinish, grace, enabled, anchor);
    }

    /** Opening at other moments. */
    public Schedule withRecurrence(Recurrence other) {
        return new Schedule(id, kind, Optional.of(other), Optional.empty(), within, mustFinish, grace, enabled, anchor);
    }

    public Schedule withGrace(Duration other) {
        return new Schedule(id, kind, recurrence, every, within, mustFinish, other, enabled, anchor);
    }

    public Schedule with(boolean switchedOn) {
        return new Schedule(id, kind, recurrence, every, within, mustFinish, grace, switchedOn, anchor);
    }

    /**
     * When its slots open in {@code [from, to)}, ascending; none where it goes by an interval.
     *
     * @param version the version it stands in
     * @param zone where its local times are meant
     */
    public List<Instant> openings(PolicyVersion version, ZoneId zone, Instant from, Instant to) {
        LocalDate start =
                anchor.orElseGet(() -> version.effectiveFrom().atZone(zone).toLocalDate());
        return recurrence.map(r -> r.between(start, zone, from, to)).orElse(List.of());
    }
}
