package firth.core.findings;

import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Optional;

/** What in a policy contradicts itself, as values (docs/semantics.md, "Rules that contradict themselves"). */
public sealed interface FlawDetail {

    /**
     * Logs come too rarely for what is promised.
     *
     * @param delay of whom logs are safe from the hazard so much later, where it is that which breaks the promise
     */
    record ObjectiveTooShort(Hazard hazard, Duration promised, Duration every, Optional<Followers.Of<Duration>> delay)
            implements FlawDetail {}

    /** No store serves what is promised of a database. */
    record HazardUnserved(Hazard hazard, Duration promised, String database) implements FlawDetail {}

    /** @param spacing how far apart data backups lie */
    record ObjectiveWithoutLogs(Duration promised, Duration spacing) implements FlawDetail {}

    record ReachWithoutLogs(Duration reach) implements FlawDetail {}

    record NoFull() implements FlawDetail {}

    record HangsFromNothing(Kind kind, String schedule) implements FlawDetail {}

    /** @param spacing how far apart fulls lie */
    record ReachWithoutFull(Duration spacing, Duration reach) implements FlawDetail {}

    /** @param byReach whether its reach asks for nothing, else its number of fulls */
    record RetainsNothing(Role role, boolean byReach) implements FlawDetail {}

    record RungWithoutFull(RungUnit unit, LocalDate day) implements FlawDetail {}

    record AtMostTooShort(Duration atMost, Duration needed) implements FlawDetail {}

    record LockTooLong(Duration lock, Duration retained) implements FlawDetail {}

    /** @param leadTo how many of what is asked for the route of a database leads to */
    record CopiesImpossible(Followers.Provision asked, int count, String database, int leadTo) implements FlawDetail {}

    record WindowShorterThanGrace(String schedule, Duration within, Duration grace) implements FlawDetail {}

    record OutsideOpenHours(String schedule) implements FlawDetail {}

    record LongerThanOpenHours(Kind kind, String database, Duration takes, Duration open) implements FlawDetail {}

    record SwitchedOff() implements FlawDetail {}
}
