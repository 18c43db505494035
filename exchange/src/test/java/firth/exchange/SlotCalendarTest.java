package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.Period;
import net.fortuna.ical4j.model.component.VEvent;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The feed, read back and expanded by the library, says the same slots as Firth, over changes of the clocks, closures and versions. */
class SlotCalendarTest {

    private static final Instant NOW = Instant.parse("2026-10-01T09:00:00Z");
    private static final Span SPAN = new Span(NOW, NOW.plus(Duration.ofDays(35)));
    private static final List<String> ZONES =
            List.of("Europe/Lisbon", "America/New_York", "UTC", "Australia/Lord_Howe", "Asia/Kolkata");

    private static PolicyVersion version(int version, Instant from, String schedules) {
        return (PolicyVersion) FleetFileReader.recordOf("""
                {"type":"policy","id":"p","version":%d,"effectiveFrom":"%s","name":"Sailings","objective":{},\
                "schedules":[%s]}""".formatted(version, from, schedules));
    }

    private static PolicyVersion policy(String schedules) {
        return version(1, Instant.parse("2026-01-01T00:00:00Z"), schedules);
    }

    private static Database database(String id, String zone) {
        return (Database) FleetFileReader.recordOf("""
                {"type":"database","id":"%s","zone":"%s","policy":"p","inServiceFrom":"2026-01-01T00:00:00Z"}""".formatted(id, zone));
    }

    private static Closure closed(String database, String from, String to) {
        return (Closure) FleetFileReader.recordOf("""
                {"type":"closure","id":"c-%s","database":"%s","from":"%s","to":"%s","reason":"dock"}""".formatted(database, database, from, to));
    }

    private static Map<Database, List<Expected>> expected(
            List<PolicyVersion> versions, List<Closure> closures, Database... databases) {
        Fleet fleet = new Fleet(List.of(), versions);
        Map<Database, List<Expected>> out = new LinkedHashMap<>();
        for (Database d : databases) {
            DatabaseFacts facts = new DatabaseFacts(d, History.of(d).build(), List.of(), closures);
            out.put(d, Expected.of(facts, fleet, Habits.of(d, facts.history(), NOW), NOW, SPAN));
        }
        return out;
    }

    @Test
    void noLineIsLongerThan75Octets() throws Exception {
        PolicyVersion nights = policy("""
                {"id":"nightly-of-every-ferry-in-the-harbour","kind":"full","cron":"40 22 * * *","within":"PT4H"}""");
        Database[] many = IntStream.range(0, 30)
                .mapToObj(n -> (Database) FleetFileReader.recordOf("""
                        {"type":"database","id":"d%d","name":"Fähre Ölhafen ⚓ %d","zone":"Europe/Lisbon","policy":"p",\
                        "inServiceFrom":"2026-01-01T00:00:00Z"}""".formatted(n, n)))
                .toArray(Database[]::new);
        String feed = SlotCalendar.of(expected(List.of(nights), List.of(), many), List.of(), NOW, SPAN);
        for (String line : feed.split("\r\n")) {
            assertTrue(line.getBytes(StandardCharsets.UTF_8).length <= 75, line);
        }
        assertTrue(feed.contains("\r\n "), "some are folded");
        String description = events(feed).get(0).getDescription().getValue();
        assertTrue(description.contains("Fähre Ölhafen ⚓ 29"), description);
    }

    private static List<VEvent> events(String feed) throws Exception {
        Calendar calendar = new CalendarBuilder().build(new StringReader(feed));
        return calendar.getComponents("VEVENT");
    }

    /** When something is to be run, and until when it may start. */
    private static Set<String> said(List<VEvent> events, String what) {
        Set<String> out = new TreeSet<>();
        for (VEvent e : events) {
            if (!e.getSummary().getValue().startsWith(what)) {
                continue;
            }
            Set<? extends Period<?>> found = e.calculateRecurrenceSet(new Period<>(
                    ZonedDateTime.ofInstant(SPAN.from(), java.time.ZoneOffset.UTC),
                    ZonedDateTime.ofInstant(SPAN.to(), java.time.ZoneOffset.UTC)));
            found.forEach(p -> out.add(Instant.from(p.getStart()) + " " + Instant.from(p.getEnd())));
        }
        return out;
    }

    private static Set<String> runs(List<Expected> expected, String kind) {
        return expected.stream()
                .filter(e -> e.runs() && e.slot().kind().word().equals(kind))
                .map(e -> e.slot().open() + " " + e.slot().close())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "FREQ=DAILY;BYHOUR=2;BYMINUTE=30",
                "FREQ=DAILY;INTERVAL=3;BYHOUR=1",
                "FREQ=WEEKLY;BYDAY=SA,WE;BYHOUR=22;BYMINUTE=40",
                "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;BYHOUR=2",
                "FREQ=WEEKLY;BYDAY=SU;BYHOUR=1,2,3",
                "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=2",
                "FREQ=MONTHLY;BYDAY=-1FR;BYHOUR=23",
                "FREQ=MONTHLY;BYMONTHDAY=1,15,31;BYHOUR=0",
                "FREQ=DAILY;BYHOUR=4;COUNT=290",
                "FREQ=DAILY;BYHOUR=4;UNTIL=20261020T000000Z",
                "40 23 * * 0-5",
                "*/30 2 1,15 * *",
                "0 5 13 * 5"
            })
    void saysTheSameSlotsInEveryZone(String rule) throws Exception {
        String field = rule.contains("FREQ=") ? "rrule" : "cron";
        PolicyVersion policy = policy("""
                {"id":"fulls","kind":"full","%s":"%s","within":"PT4H"},\
                {"id":"logs","kind":"log","every":"PT10M"}""".formatted(field, rule));
        for (String zone : ZONES) {
            Map<Database, List<Expected>> expected = expected(List.of(policy), List.of(), database("bookings", zone));
            List<Expected> own = expected.values().iterator().next();
            List<VEvent> events = events(SlotCalendar.of(expected, List.of(), NOW, SPAN));
            assertFalse(own.isEmpty(), rule);
            assertEquals(runs(own, "full"), said(events, "full of bookings"), zone);
            assertEquals(
                    events.size(),
                    events.stream()
                            .map(e -> e.getUid().orElseThrow().getValue())
                            .distinct()
                            .count());
        }
    }

    private static final String NIGHTLY = """
            {"id":"weekly","kind":"full","rrule":"FREQ=WEEKLY;BYDAY=SA;BYHOUR=1","within":"PT4H"},\
            {"id":"nightly","kind":"incr","rrule":"FREQ=DAILY;BYHOUR=1","within":"PT2H"}""";

    @Test
    void aRuleIsOneEventForAllThatFollowItAlike() throws Exception {
        List<Closure> closures = List.of(closed("tides", "2026-10-10T00:00:00Z", "2026-10-12T12:00:00Z"));
        Map<Database, List<Expected>> expected = expected(
                List.of(policy(NIGHTLY)),
                closures,
                database("bookings", "Europe/Lisbon"),
                database("fares", "Europe/Lisbon"),
                database("tides", "Europe/Lisbon"),
                database("berths", "Europe/Madrid"));
        String feed = SlotCalendar.of(expected, closures, NOW, SPAN);
        List<VEvent> events = events(feed);
        assertEquals(3 * 2 + 1, events.size(), feed);
        assertTrue(feed.contains("TZID:Europe/Lisbon") && feed.contains("TZID:Europe/Madrid"));
        List<List<Expected>> each = new ArrayList<>(expected.values());
        assertEquals(runs(each.get(0), "incr"), said(events, "incr of 2 databases"));
        assertEquals(runs(each.get(2), "incr"), said(events, "incr of tides"), "the closure is left out");
        assertEquals(runs(each.get(2), "full"), said(events, "full of tides"));
        assertTrue(runs(each.get(0), "incr").size() > runs(each.get(2), "incr").size());
        assertEquals(
                1,
                events.stream()
                        .filter(e -> e.getSummary().getValue().equals("closure: dock"))
                        .count());
        assertTrue(events.stream().anyMatch(e -> e.getDescription().getValue().endsWith(". bookings, fares")), feed);
    }

    @Test
    void aRuleEndsWhereAnotherVersionTakesItsPlace() throws Exception {
        Instant change = Instant.parse("2026-10-15T12:00:00Z");
        Map<Database, List<Expected>> expected = expected(
                List.of(policy(NIGHTLY), version(2, change, NIGHTLY.replace("BYHOUR=1", "BYHOUR=3"))),
                List.of(),
                database("bookings", "Europe/Lisbon"));
        List<VEvent> events = events(SlotCalendar.of(expected, List.of(), NOW, SPAN));
        assertEquals(4, events.size());
        assertEquals(runs(expected.values().iterator().next(), "incr"), said(events, "incr of bookings"));
    }
}
