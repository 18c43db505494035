package firth.exchange;

import firth.core.adherence.Slot;
import firth.core.forecast.Expected;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.DateList;
import net.fortuna.ical4j.model.ParameterList;
import net.fortuna.ical4j.model.Recur;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.parameter.TzId;
import net.fortuna.ical4j.model.property.Categories;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.ExDate;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.RRule;
import net.fortuna.ical4j.model.property.Status;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableCalScale;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/**
 * Slots to come as an iCalendar feed (RFC 5545), each from its opening to the close of its start window; closures too. Databases whose
 * slots of a schedule are the same share an event. It recurs by the schedule's own rule, on the clock of its zone, where that says
 * exactly these slots; else every slot is an event of its own, in UTC.
 */
public final class SlotCalendar {

    /** Databases that are named in an event. */
    private static final int NAMED = 40;

    private static final int LINE_OCTETS = 75;

    private final Calendar calendar = new Calendar();
    private final Set<ZoneId> zones = new TreeSet<>((a, b) -> a.getId().compareTo(b.getId()));
    private final Instant made;
    private final Span span;

    private SlotCalendar(Instant made, Span span) {
        this.made = made;
        this.span = span;
        calendar.add(new ProdId("-//Firth//Slots//EN"));
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(ImmutableCalScale.GREGORIAN);
    }

    /**
     * The feed.
     *
     * @param expected what is expected of each database in the span
     * @param made when the feed was made
     * @param span the stretch in which slots are known; rules go on after it
     */
    public static String of(Map<Database, List<Expected>> expected, List<Closure> closures, Instant made, Span span) {
        List<Alike> each = expected.entrySet().stream()
                .map(e -> new Alike(List.of(new Named(e.getKey(), longest(e.getValue()))), e.getValue()))
                .toList();
        return of(each, closures, made, span);
    }

    /** The same where databases of the same slots are known to be that: their slots are looked at once. */
    public static String of(List<Alike> expected, List<Closure> closures, Instant made, Span span) {
        SlotCalendar out = new SlotCalendar(made, span);
        Map<Series, List<Named>> shared = new LinkedHashMap<>();
        for (Alike some : expected) {
            Series.all(some.databases.get(0).database, some.slots)
                    .forEach(series -> shared.computeIfAbsent(series, s -> new ArrayList<>())
                            .addAll(some.databases));
        }
        shared.values().forEach(named -> named.sort(Comparator.comparing(n -> n.database.id())));
        shared.forEach(out::add);
        closures.forEach(out::add);
        out.zones.forEach(zone -> out.calendar.add(Zones.component(zone)));
        return folded(out.calendar.toString());
    }

    /** No line longer than 75 octets (RFC 5545, 3.1): what is over goes on in a line that begins with a space. */
    private static String folded(String calendar) {
        StringBuilder out = new StringBuilder(calendar.length() + calendar.length() / 32);
        int octets = 0;
        for (int i = 0; i < calendar.length(); i += Character.charCount(calendar.codePointAt(i))) {
            int sign = calendar.codePointAt(i);
            if (sign == '\r' || sign == '\n') {
                octets = 0;
            } else {
                int own = sign < 0x80 ? 1 : sign < 0x800 ? 2 : sign < 0x10000 ? 3 : 4;
                if (octets + own > LINE_OCTETS) {
                    out.append("\r\n ");
                    octets = 1;
                }
                octets += own;
            }
            out.appendCodePoint(sign);
        }
        return out.toString();
    }

    /**
     * A database as an event names it.
     *
     * @param usual how long its runs usually take, by their schedule
     */
    public record Named(Database database, Map<String, Duration> usual) {}

    /** Databases, at least one, of which the same is expected, but for how long it will take. */
    public record Alike(List<Named> databases, List<Expected> slots) {}

    /** Slots of one version of a schedule on the clock of one zone: when they open, and which of them will not be run. */
    private record Series(
            String policy, int version, Schedule schedule, ZoneId zone, List<Instant> runs, List<Instant> left) {

        static List<Series> all(Database database, List<Expected> slots) {
            return slots.stream()
                    .collect(Collectors.groupingBy(
                            e -> List.of(e.slot().policy(), e.slot().version(), e.schedule()),
                            LinkedHashMap::new,
                            Collectors.toList()))
                    .values()
                    .stream()
                    .filter(own -> own.stream().anyMatch(Expected::runs))
                    .map(own -> of(database, own))
                    .distinct()
                    .toList();
        }

        private static Series of(Database database, List<Expected> own) {
            Slot first = own.get(0).slot();
            return new Series(
                    first.policy(),
                    first.version(),
                    own.get(0).schedule(),
                    database.zone(),
                    opens(own, true),
                    opens(own, false));
        }

        private static List<Instant> opens(List<Expected> own, boolean run) {
            return own.stream()
                    .filter(e -> e.runs() == run)
                    .map(e -> e.slot().open())
                    .sorted()
                    .toList();
        }

        Duration window() {
            return schedule.within().orElse(Duration.ZERO);
        }

        Instant first() {
            return left.isEmpty() || runs.get(0).isBefore(left.get(0)) ? runs.get(0) : left.get(0);
        }

        Set<Instant> every() {
            Set<Instant> out = new TreeSet<>(runs);
            out.addAll(left);
            return out;
        }

        /** The schedule's rule, where from the first slot on it says these and no others; with an end, where they end before the span. */
        Optional<String> rule(Span span) {
            String written = schedule.recurrence()
                    .flatMap(r -> PlainWeek.of(r).map(PlainWeek::rule).or(() -> Optional.of(r.written())))
                    .orElse("");
            String upper = written.toUpperCase(Locale.ROOT);
            if (!upper.contains("FREQ=") || upper.contains("COUNT=") || upper.contains("UNTIL=")) {
                return Optional.empty();
            }
            if (!upper.contains("BYMINUTE=")) {
                written += ";BYMINUTE=0";
            }
            LocalDateTime begin = first().atZone(zone).toLocalDateTime();
            LocalDate start = begin.toLocalDate();
            // The clocks may have moved the first: then it is at no time of day the rule names.
            Instant local = begin.toInstant(ZoneOffset.UTC);
            if (Recurrences.rule(written)
                    .between(start, ZoneOffset.UTC, local, local.plusSeconds(1))
                    .isEmpty()) {
                return Optional.empty();
            }
            List<Instant> said = Recurrences.rule(written).between(start, zone, first(), span.to());
            Set<Instant> every = every();
            if (every.equals(Set.copyOf(said))) {
                return Optional.of(written);
            }
            List<Instant> until = said.size() < every.size() ? List.of() : said.subList(0, every.size());
            return every.equals(Set.copyOf(until))
                    ? Optional.of(written + ";UNTIL=" + stamp(until.get(until.size() - 1)))
                    : Optional.empty();
        }

        private static String stamp(Instant at) {
            return at.truncatedTo(ChronoUnit.SECONDS).toString().replaceAll("[-:]", "");
        }
    }

    private static Map<String, Duration> longest(List<Expected> own) {
        Map<String, Duration> out = new HashMap<>();
        own.forEach(e -> e.usual()
                .ifPresent(u -> out.merge(e.schedule().id(), u.median(), (a, b) -> a.compareTo(b) > 0 ? a : b)));
        return out;
    }

    private void add(Series series, List<Named> databases) {
        boolean local = !series.zone.getId().equals("UTC");
        Optional<String> rule = local && !Zones.isKnown(series.zone) ? Optional.empty() : series.rule(span);
        if (rule.isPresent()) {
            if (local) {
                zones.add(series.zone);
            }
            VEvent event = event(series, databases, series.first(), local);
            event.add(new RRule<Temporal>(new Recur<>(rule.get())));
            if (!series.left.isEmpty()) {
                ParameterList zone = new ParameterList(local ? List.of(new TzId(series.zone.getId())) : List.of());
                event.add(new ExDate<>(
                        zone,
                        new DateList<>(series.left.stream()
                                .map(at -> moment(series, at, local))
                                .toList())));
            }
            calendar.add(event);
        } else {
            series.runs.forEach(at -> calendar.add(event(series, databases, at, false)));
        }
    }

    private static Temporal moment(Series series, Instant at, boolean local) {
        return local ? at.atZone(series.zone) : at;
    }

    private VEvent event(Series series, List<Named> databases, Instant open, boolean local) {
        Instant close = open.plus(series.window());
        VEvent event = new VEvent(
                moment(series, open, local),
                moment(series, close, local),
                series.schedule.kind().word() + " of "
                        + (databases.size() == 1 ? databases.get(0).database.name() : databases.size() + " databases"));
        stamp(event);
        event.add(new Uid(
                String.join("/", series.policy, series.schedule.id(), among(databases), open.toString()) + "@firth"));
        event.add(new Categories(series.policy));
        event.add(new Description(description(series, databases)));
        return event;
    }

    /** Tells groups of databases apart in few letters. */
    private static String among(List<Named> databases) {
        String all = databases.stream().map(n -> n.database.id()).collect(Collectors.joining(" "));
        return databases.size() == 1
                ? all
                : databases.size() + "-" + HexFormat.of().toHexDigits(all.hashCode());
    }

    private static String description(Series series, List<Named> databases) {
        Optional<Duration> usual = databases.stream()
                .flatMap(n -> Optional.ofNullable(n.usual.get(series.schedule.id())).stream())
                .max(Duration::compareTo);
        String names =
                databases.stream().limit(NAMED).map(n -> n.database.name()).collect(Collectors.joining(", "));
        return "Schedule " + series.schedule.id() + " of policy " + series.policy + ", version " + series.version
                + "; may start within " + minutes(series.window()) + " min"
                + (series.schedule.mustFinish() ? " and must be finished by then" : "")
                + usual.map(u -> "; usually takes " + (databases.size() == 1 ? "" : "up to ") + minutes(u) + " min")
                        .orElse("")
                + (databases.size() == 1 ? "" : ". " + names)
                + (databases.size() > NAMED ? " and " + (databases.size() - NAMED) + " more" : "");
    }

    private void add(Closure c) {
        VEvent event = new VEvent(c.span().from(), c.span().to(), "closure: " + c.reason());
        stamp(event);
        event.add(new Uid("closure/" + c.id() + "@firth"));
        event.add(new Status("CONFIRMED"));
        calendar.add(event);
    }

    private void stamp(VEvent event) {
        event.removeAll("DTSTAMP");
        event.add(new DtStamp(made));
    }

    private static long minutes(Duration d) {
        return Math.max(1, Math.round(d.toSeconds() / 60.0));
    }
}
