package firth.exchange;

import com.cronutils.model.Cron;
import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import firth.core.time.Recurrence;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import net.fortuna.ical4j.model.Recur;

/**
 * Recurrences as written: RFC 5545 rules and five-field cron lines. Both are expanded on the local calendar first, as if
 * every local time existed once, and then put on the clock of the zone, so that changes of the clocks are treated alike.
 */
final class Recurrences {

    private Recurrences() {}

    /**
     * A recurrence that remembers how it was written, and what it was last asked: hundreds of databases ask the same of the
     * rules they share. It is worked out for whole blocks of days.
     */
    static final class Written implements Recurrence {

        private static final long BLOCK_S = 64L * 86_400;
        private static final int KEPT = 32;

        private final String written;
        private final Recurrence recurrence;
        private final Map<Asked, List<Instant>> known = new ConcurrentHashMap<>();

        private record Asked(LocalDate start, ZoneId zone, long first, long last) {}

        Written(String written, Recurrence recurrence) {
            this.written = written;
            this.recurrence = recurrence;
        }

        @Override
        public String written() {
            return written;
        }

        @Override
        public List<Instant> between(LocalDate start, ZoneId zone, Instant from, Instant to) {
            if (!from.isBefore(to)) {
                return List.of();
            }
            Asked asked = new Asked(
                    start,
                    zone,
                    Math.floorDiv(from.getEpochSecond(), BLOCK_S),
                    Math.floorDiv(to.getEpochSecond(), BLOCK_S) + 1);
            if (known.size() > KEPT) {
                known.clear();
            }
            List<Instant> all = known.get(asked);
            if (all == null) {
                // Not while the map is locked: the library spreads its work over threads, and those may be waiting for
                // this map.
                all = recurrence.between(
                        start,
                        zone,
                        Instant.ofEpochSecond(asked.first * BLOCK_S),
                        Instant.ofEpochSecond(asked.last * BLOCK_S));
                known.put(asked, all);
            }
            return all.subList(firstAtOrAfter(all, from), firstAtOrAfter(all, to));
        }

        @Override
        public boolean equals(Object other) {
            return other instanceof Written w && w.written.equals(written);
        }

        @Override
        public int hashCode() {
            return written.hashCode();
        }

        private static int firstAtOrAfter(List<Instant> ascending, Instant moment) {
            int at = Collections.binarySearch(ascending, moment);
            return at < 0 ? -at - 1 : at;
        }
    }

    /** @throws IllegalArgumentException with what is wrong with the rule */
    static Recurrence rule(String rule) {
        if (!rule.toUpperCase(Locale.ROOT).contains("BYHOUR=")) {
            throw new IllegalArgumentException("names no hour (BYHOUR), so nothing says when the window opens");
        }
        Recur<LocalDateTime> recur;
        try {
            recur = new Recur<>(weeksBegin(rule));
        } catch (RuntimeException e) {
            throw new IllegalArgumentException(
                    "is not an RFC 5545 recurrence rule such as FREQ=WEEKLY;BYDAY=SA;BYHOUR=23;BYMINUTE=40", e);
        }
        boolean monthsOfWeeks = recur.getFrequency().name().equals("WEEKLY")
                && !recur.getMonthList().isEmpty()
                && recur.getSetPosList().isEmpty();
        Local local = monthsOfWeeks ? weeksInMonths(rule, recur) : recur::getDates;
        return new Written(rule, (start, zone, from, to) -> {
            LocalDateTime seed = start.atStartOfDay();
            LocalDateTime low = before(from, zone);
            return placed(local.dates(seed, low.isBefore(seed) ? seed : low, after(to, zone)).stream(), zone, from, to);
        });
    }

    /** Local times of a rule that begins at a seed, in a stretch. */
    private interface Local {
        List<LocalDateTime> dates(LocalDateTime seed, LocalDateTime from, LocalDateTime to);
    }

    /** The library takes the month of one day of a week for all of its days; it is each day's own that counts. */
    private static Local weeksInMonths(String rule, Recur<LocalDateTime> recur) {
        Set<Integer> months =
                recur.getMonthList().stream().map(m -> m.getMonthOfYear()).collect(Collectors.toSet());
        Recur<LocalDateTime> weeks = new Recur<>(weeksBegin(rule.replaceAll("(?i);?(BYMONTH|COUNT)=[^;]*", "")));
        int count = recur.getCount();
        return (seed, from, to) -> {
            // What was counted before the stretch counts, too.
            Stream<LocalDateTime> all = weeks.getDates(seed, count > 0 ? seed : from, to).stream()
                    .sorted()
                    .filter(t -> months.contains(t.getMonthValue()));
            return (count > 0 ? all.limit(count) : all).toList();
        };
    }

    /** Where a rule does not say when its weeks begin, the library asks the machine's locale; ours begin on Monday. */
    private static String weeksBegin(String rule) {
        return rule.toUpperCase(Locale.ROOT).contains("WKST=") ? rule : rule + ";WKST=MO";
    }

    /** @throws IllegalArgumentException with what is wrong with the line */
    static Recurrence cron(String line) {
        Cron cron;
        try {
            cron = new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX))
                    .parse(line)
                    .validate();
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("is not a five-field cron line such as 40 23 * * 0-5", e);
        }
        Days days = Days.of(line, cron);
        return new Written(
                line,
                (start, zone, from, to) -> placed(days.dates(before(from, zone), after(to, zone)), zone, from, to));
    }

    /**
     * On which days a cron line fits. Where both of its day fields are restricted either may; a field that begins with * counts
     * as unrestricted, yet its steps apply, so that then both must.
     *
     * @param byWeekday empty where one says it all
     */
    private record Days(ExecutionTime byDate, Optional<ExecutionTime> byWeekday, boolean both) {

        static Days of(String line, Cron cron) {
            String[] fields = line.strip().split("\\s+");
            if (fields[2].equals("*") || fields[4].equals("*")) {
                return new Days(ExecutionTime.forCron(cron), Optional.empty(), true);
            }
            CronParser parser = new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));
            String byDate = String.join(" ", fields[0], fields[1], fields[2], fields[3], "*");
            String byWeekday = String.join(" ", fields[0], fields[1], "*", fields[3], fields[4]);
            return new Days(
                    ExecutionTime.forCron(parser.parse(byDate)),
                    Optional.of(ExecutionTime.forCron(parser.parse(byWeekday))),
                    fields[2].startsWith("*") || fields[4].startsWith("*"));
        }

        Stream<LocalDateTime> dates(LocalDateTime from, LocalDateTime to) {
            Stream<LocalDateTime> found = Recurrences.dates(byDate, from, to);
            return byWeekday
                    .map(w -> both
                            ? found.filter(t -> w.isMatch(t.atZone(ZoneOffset.UTC)))
                            : Stream.concat(found, Recurrences.dates(w, from, to)))
                    .orElse(found);
        }
    }

    /** The library is asked for the days alone: the times of day of a cron line are the same on each of them. */
    private static Stream<LocalDateTime> dates(ExecutionTime times, LocalDateTime from, LocalDateTime to) {
        List<LocalDateTime> out = new ArrayList<>();
        List<LocalTime> ofDay = List.of();
        LocalDateTime at = from;
        while (true) {
            LocalDateTime next = next(times, at).orElse(to);
            if (!next.isBefore(to)) {
                return out.stream();
            }
            LocalDate day = next.toLocalDate();
            if (ofDay.isEmpty()) {
                ofDay = timesOf(times, day);
            }
            ofDay.stream()
                    .map(day::atTime)
                    .filter(t -> !t.isBefore(from) && t.isBefore(to))
                    .forEach(out::add);
            at = day.plusDays(1).atStartOfDay();
        }
    }

    private static List<LocalTime> timesOf(ExecutionTime times, LocalDate day) {
        List<LocalTime> out = new ArrayList<>();
        LocalDateTime at = day.atStartOfDay();
        while (true) {
            LocalDateTime next =
                    next(times, at).filter(n -> n.toLocalDate().equals(day)).orElse(null);
            if (next == null) {
                return out;
            }
            out.add(next.toLocalTime());
            at = next.plusSeconds(1);
        }
    }

    /** The first at a moment or later; empty where it never comes. */
    private static Optional<LocalDateTime> next(ExecutionTime times, LocalDateTime from) {
        return times.nextExecution(from.minusSeconds(1).atZone(ZoneOffset.UTC)).map(ZonedDateTime::toLocalDateTime);
    }

    private static LocalDateTime before(Instant from, ZoneId zone) {
        return LocalDateTime.ofInstant(from, zone).minusDays(1);
    }

    private static LocalDateTime after(Instant to, ZoneId zone) {
        return LocalDateTime.ofInstant(to, zone).plusDays(1);
    }

    /** Local times on the clock of a zone; {@link ZonedDateTime#of} moves over gaps and takes the first of two. */
    private static List<Instant> placed(Stream<LocalDateTime> local, ZoneId zone, Instant from, Instant to) {
        TreeSet<Instant> out = new TreeSet<>();
        local.map(t -> ZonedDateTime.of(t, zone).toInstant())
                .filter(t -> !t.isBefore(from) && t.isBefore(to))
                .forEach(out::add);
        return List.copyOf(out);
    }
}
