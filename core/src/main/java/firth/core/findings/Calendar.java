package firth.core.findings;

import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import firth.core.time.Recurrence;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * When slots of a policy open in the years to come, in one zone. Remembers what it has found out about them and not the moments
 * themselves: a schedule of every five minutes has three hundred thousand. Safe for use by several threads.
 */
final class Calendar {

    private static final Duration AHEAD = Duration.ofDays(1100);

    private final Instant from;
    private final ZoneId zone;
    private final Map<List<Rule>, Optional<Duration>> spacings = new ConcurrentHashMap<>();
    private final Map<List<Rule>, Optional<Duration>> closest = new ConcurrentHashMap<>();
    private final Map<List<Rule>, Boolean> together = new ConcurrentHashMap<>();
    private final Map<Without, Optional<LocalDate>> empties = new ConcurrentHashMap<>();
    private final Map<First, List<Instant>> firsts = new ConcurrentHashMap<>();

    /** A recurrence and where it starts. */
    private record Rule(Recurrence recurrence, Optional<LocalDate> anchor) {}

    private record Without(List<Rule> rules, RungUnit unit) {}

    private record First(List<Rule> rules, int n) {}

    Calendar(Instant from, ZoneId zone) {
        this.from = from;
        this.zone = zone;
    }

    ZoneId zone() {
        return zone;
    }

    private static List<Rule> rules(Schedule schedule) {
        return schedule.recurrence().stream()
                .map(r -> new Rule(r, schedule.anchor()))
                .toList();
    }

    private static List<Rule> rules(PolicyVersion version, Set<Kind> kinds) {
        return version.live().stream()
                .filter(s -> kinds.contains(s.kind()))
                .flatMap(s -> rules(s).stream())
                .toList();
    }

    /** When slots of any of them open, in order. */
    private List<Instant> moments(List<Rule> rules) {
        return rules.stream()
                .distinct()
                .flatMap(r -> r
                        .recurrence
                        .between(
                                r.anchor.orElseGet(() -> from.atZone(zone).toLocalDate()), zone, from, from.plus(AHEAD))
                        .stream())
                .sorted()
                .distinct()
                .toList();
    }

    /** The longest time from one slot of some kinds to the next; empty where there are fewer than two. */
    Optional<Duration> spacing(PolicyVersion version, Set<Kind> kinds) {
        return spacing(rules(version, kinds));
    }

    /** The longest time from one slot of a schedule to the next. */
    Optional<Duration> spacing(Schedule schedule) {
        return spacing(rules(schedule));
    }

    private Optional<Duration> spacing(List<Rule> rules) {
        return spacings.computeIfAbsent(rules, all -> longest(moments(all)));
    }

    private static Optional<Duration> longest(List<Instant> moments) {
        Duration longest = null;
        for (int i = 1; i < moments.size(); i++) {
            Duration apart = Duration.between(moments.get(i - 1), moments.get(i));
            longest = longest == null || apart.compareTo(longest) > 0 ? apart : longest;
        }
        return Optional.ofNullable(longest);
    }

    /** The shortest time from one slot of a schedule to the next. */
    Optional<Duration> closest(Schedule schedule) {
        return closest.computeIfAbsent(rules(schedule), all -> {
            List<Instant> moments = moments(all);
            Duration shortest = null;
            for (int i = 1; i < moments.size(); i++) {
                Duration apart = Duration.between(moments.get(i - 1), moments.get(i));
                shortest = shortest == null || apart.compareTo(shortest) < 0 ? apart : shortest;
            }
            return Optional.ofNullable(shortest);
        });
    }

    /** Whether a slot of one opens whenever one of the other does. */
    boolean opensWith(Schedule one, Schedule other) {
        List<Rule> both = new ArrayList<>(rules(one));
        both.addAll(rules(other));
        return together.computeIfAbsent(both, all -> {
            List<Instant> own = moments(rules(one));
            return !own.isEmpty() && Set.copyOf(moments(rules(other))).containsAll(own);
        });
    }

    /** The first few moments at which slots of a schedule open. */
    List<Instant> first(Schedule schedule, int n) {
        return firsts.computeIfAbsent(
                new First(rules(schedule), n),
                f -> moments(f.rules).stream().limit(f.n).toList());
    }

    /** The first whole unit of the local calendar in which no slot of some kinds opens, by its first day; none where there are no slots. */
    Optional<LocalDate> without(RungUnit unit, PolicyVersion version, Set<Kind> kinds) {
        return empties.computeIfAbsent(new Without(rules(version, kinds), unit), w -> {
            List<Instant> moments = moments(w.rules);
            return moments.isEmpty() ? Optional.empty() : without(w.unit, moments);
        });
    }

    private Optional<LocalDate> without(RungUnit unit, List<Instant> moments) {
        LocalDate last = from.plus(AHEAD).atZone(zone).toLocalDate();
        LocalDate begin = unit.next(unit.begin(from.atZone(zone).toLocalDate()));
        int at = 0;
        while (true) {
            LocalDate end = unit.next(begin);
            if (end.isAfter(last)) {
                return Optional.empty();
            }
            Instant low = begin.atStartOfDay(zone).toInstant();
            Instant high = end.atStartOfDay(zone).toInstant();
            while (at < moments.size() && moments.get(at).isBefore(low)) {
                at++;
            }
            if (at == moments.size() || !moments.get(at).isBefore(high)) {
                return Optional.of(begin);
            }
            begin = end;
        }
    }
}
