package firth.core.findings;

import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
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

    record NeverOccurs(String schedule) implements FlawDetail {}

    /** @param apart how close to one another its slots open at the closest */
    record WindowLongerThanSpacing(String schedule, Duration within, Duration apart) implements FlawDetail {}

    /** Whenever one opens the other does, and one run serves both. */
    record OpensWithAnother(Kind kind, String schedule, String other) implements FlawDetail {}

    record NothingRetained() implements FlawDetail {}

    /** @param led the roles of the stores its followers' backups go to */
    record RoleUnserved(Role role, List<Role> led) implements FlawDetail {}

    /** @param longest what any of its rules keeps */
    record ReachNotRetained(Duration reach, Duration longest) implements FlawDetail {}

    /** @param database one whose copies nothing locks */
    record SabotageWithoutLock(Duration promised, Optional<String> database) implements FlawDetail {}

    /** @param needed bytes that what the rule retains of the policy's databases takes, as large as they have lately been */
    record StoreTooSmall(String store, Role role, double needed, double capacity) implements FlawDetail {}
}
