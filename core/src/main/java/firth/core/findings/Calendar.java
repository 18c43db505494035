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
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** When slots of a policy open in the years to come. Remembers what it has worked out. Not safe for use by several threads. */
final class Calendar {

    private static final Duration AHEAD = Duration.ofDays(1100);

    private final Instant from;
    private final ZoneId zone;
    private final Map<Rule, List<Instant>> known = new HashMap<>();
    private final Map<List<Rule>, Merged> merged = new HashMap<>();

    /** A recurrence and where it starts. */
    private record Rule(Recurrence recurrence, Optional<LocalDate> anchor) {}

    /** What several recurrences come to together. */
    private record Merged(List<Instant> moments, Optional<Duration> spacing) {}

    Calendar(Instant from, ZoneId zone) {
        this.from = from;
        this.zone = zone;
    }

    ZoneId zone() {
        return zone;
    }

    /** When the slots of a schedule open. */
    List<Instant> of(Schedule schedule) {
        return rule(schedule).map(this::of).orElse(List.of());
    }

    private static Optional<Rule> rule(Schedule schedule) {
        return schedule.recurrence().map(r -> new Rule(r, schedule.anchor()));
    }

    private List<Instant> of(Rule rule) {
        LocalDate start = rule.anchor.orElseGet(() -> from.atZone(zone).toLocalDate());
        return known.computeIfAbsent(rule, r -> r.recurrence.between(start, zone, from, from.plus(AHEAD)));
    }

    /** When slots of some kinds open, in order. */
    List<Instant> of(PolicyVersion version, Set<Kind> kinds) {
        return merged(version, kinds).moments;
    }

    /** The longest time from one slot of some kinds to the next; empty where there are fewer than two. */
    Optional<Duration> spacing(PolicyVersion version, Set<Kind> kinds) {
        return merged(version, kinds).spacing;
    }

    /** The longest time from one slot of a schedule to the next. */
    Optional<Duration> spacing(Schedule schedule) {
        return merged(rule(schedule).stream().toList()).spacing;
    }

    private Merged merged(PolicyVersion version, Set<Kind> kinds) {
        return merged(version.live().stream()
                .filter(s -> kinds.contains(s.kind()))
                .flatMap(s -> rule(s).stream())
                .toList());
    }

    private Merged merged(List<Rule> rules) {
        return merged.computeIfAbsent(rules, all -> {
            TreeSet<Instant> moments = new TreeSet<>();
            all.forEach(r -> moments.addAll(of(r)));
            List<Instant> ordered = List.copyOf(moments);
            return new Merged(ordered, spacing(ordered));
        });
    }

    private static Optional<Duration> spacing(List<Instant> moments) {
        Duration longest = null;
        for (int i = 1; i < moments.size(); i++) {
            Duration apart = Duration.between(moments.get(i - 1), moments.get(i));
            longest = longest == null || apart.compareTo(longest) > 0 ? apart : longest;
        }
        return Optional.ofNullable(longest);
    }

    /** The first whole unit of the local calendar with none of the moments in it, by its first day. */
    Optional<LocalDate> without(RungUnit unit, List<Instant> moments) {
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

    /** The first few moments. */
    static List<Instant> first(List<Instant> moments, int n) {
        return new ArrayList<>(moments.subList(0, Math.min(n, moments.size())));
    }
}
