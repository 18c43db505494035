package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.Recurrence;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Schedules in forms other programs read: read back, each says the same moments as Firth. */
class OutTest {

    private static final Instant NOW = Instant.parse("2026-10-20T09:00:00Z");
    private static final Instant END = NOW.plus(Duration.ofDays(14));
    private static final ZoneId LISBON = ZoneId.of("Europe/Lisbon");

    private static PolicyVersion policy(String schedules) {
        return (PolicyVersion) FleetFileReader.recordOf("""
                {"type":"policy","id":"p","effectiveFrom":"2026-01-01T00:00:00Z","name":"Sailings","objective":{},\
                "schedules":[%s]}""".formatted(schedules));
    }

    private static Database database(String id, String host) {
        return (Database) FleetFileReader.recordOf("""
                {"type":"database","id":"%s","zone":"Europe/Lisbon","policy":"p","host":"%s",\
                "inServiceFrom":"2026-01-01T00:00:00Z"}""".formatted(id, host));
    }

    private static final PolicyVersion PLAIN = policy("""
            {"id":"weekly","kind":"full","rrule":"FREQ=WEEKLY;BYDAY=SA,WE;BYHOUR=22;BYMINUTE=40","within":"PT4H"},\
            {"id":"nightly","kind":"incr","cron":"30 1 * * 0-5","within":"PT2H"},\
            {"id":"daily","kind":"config","rrule":"FREQ=DAILY;BYHOUR=6","within":"PT1H"},\
            {"id":"logs","kind":"log","every":"PT10M"}""");

    private static final PolicyVersion ODD = policy("""
            {"id":"monthly","kind":"full","rrule":"FREQ=MONTHLY;INTERVAL=2;BYDAY=1SU;BYHOUR=2","within":"PT4H"},\
            {"id":"logs","kind":"log","every":"PT7M"}""");

    private static List<HostSchedules.Served> served(PolicyVersion version) {
        return List.of(
                new HostSchedules.Served(database("bookings", "h1"), version),
                new HostSchedules.Served(database("fares", "h2"), version));
    }

    private static Set<Instant> moments(Recurrence recurrence) {
        return new TreeSet<>(recurrence.between(LocalDate.of(2026, 1, 1), LISBON, NOW, END));
    }

    @Test
    void cronLinesSayTheSameMoments() {
        String text = HostSchedules.crontab(served(PLAIN));
        assertTrue(text.contains("# ---- h1 ----\nCRON_TZ=Europe/Lisbon\n"), text);
        List<String> lines = text.lines()
                .filter(l -> l.endsWith(" bookings") && !l.startsWith("#"))
                .toList();
        assertEquals(4, lines.size());
        for (int i = 0; i < 3; i++) {
            String[] fields = lines.get(i).split(" ");
            String cron = String.join(" ", Arrays.copyOf(fields, 5));
            Schedule schedule = PLAIN.schedules().get(i);
            assertEquals("$FIRTH_START", fields[5]);
            assertEquals(schedule.kind().word(), fields[6]);
            assertEquals(moments(schedule.recurrence().orElseThrow()), moments(Recurrences.cron(cron)), cron);
        }
        assertTrue(lines.get(3).startsWith("*/10 * * * * $FIRTH_START log"), lines.get(3));
    }

    /** The monthly one falls on a Saturday now and then, the yearly one always on the monthly one. */
    private static final PolicyVersion TOGETHER = policy("""
            {"id":"weekly","kind":"full","cron":"40 22 * * 6","within":"PT4H"},\
            {"id":"monthly","kind":"full","cron":"40 22 1 * *","within":"PT4H"},\
            {"id":"yearly","kind":"full","cron":"40 22 1 1 *","within":"PT4H"},\
            {"id":"nightly","kind":"incr","cron":"40 22 * * 0-5","within":"PT2H"}""");

    @Test
    void oneRunServesSchedulesOfAKindThatFallTogether(@TempDir Path directory) throws Exception {
        List<String> lines = HostSchedules.crontab(served(TOGETHER)).lines().toList();
        List<String> commands = lines.stream()
                .filter(l -> l.contains(" full bookings") && !l.startsWith("#"))
                .map(l -> l.split(" ", 6)[5])
                .toList();
        assertEquals(2, commands.size(), lines::toString);
        assertTrue(
                lines.contains(
                        "# full of bookings (Sailings, yearly): every one falls on monthly, whose run serves both"),
                lines::toString);
        assertTrue(lines.contains("40 22 * * 0-5 $FIRTH_START incr bookings"), "nothing else of its kind");
        Path started = directory.resolve("started");
        List<Process> both = new ArrayList<>();
        for (String command : commands) {
            ProcessBuilder run = new ProcessBuilder(
                    "sh", "-c", command.replace("/tmp/", directory + "/").replace("sleep 61", "sleep 2"));
            run.environment().put("FIRTH_START", "echo >> " + started + " started");
            both.add(run.start());
        }
        for (Process p : both) {
            p.waitFor();
        }
        assertEquals(List.of("started full bookings"), Files.readAllLines(started));
    }

    @Test
    void whatHasNoLineOfItsOwnServesNobody() {
        PolicyVersion version = policy("""
                {"id":"a","kind":"full","rrule":"FREQ=DAILY;BYHOUR=22;COUNT=900","within":"PT4H"},\
                {"id":"weekly","kind":"full","cron":"0 22 * * 6","within":"PT4H"}""");
        String text = HostSchedules.crontab(served(version));
        assertTrue(text.contains("cannot be written as a cron line: full of bookings (Sailings, a)"), text);
        assertTrue(text.contains("\n0 22 * * 6 flock"), text);
    }

    @Test
    void timersSayTheSameMoments() {
        String text = HostSchedules.timers(served(PLAIN));
        List<String> calendars = text.lines()
                .filter(l -> l.startsWith("OnCalendar="))
                .map(l -> l.substring("OnCalendar=".length()))
                .toList();
        assertEquals(6, calendars.size(), "three schedules with times, two databases");
        for (int i = 0; i < 3; i++) {
            assertEquals(moments(PLAIN.schedules().get(i).recurrence().orElseThrow()), onCalendar(calendars.get(i)));
        }
        assertTrue(text.contains("OnUnitActiveSec=600s"), text);
        assertTrue(text.contains("Unit=firth-start@full:bookings.service"), text);
    }

    /** The calendar events of a timer: weekdays, any date, a time and a zone. */
    private static Set<Instant> onCalendar(String written) {
        Matcher m = Pattern.compile("(?:([A-Z][a-z]{2}(?:,[A-Z][a-z]{2})*) )?\\*-\\*-\\* (\\d\\d:\\d\\d:\\d\\d) (\\S+)")
                .matcher(written);
        assertTrue(m.matches(), written);
        Set<String> days = m.group(1) == null ? Set.of() : Set.of(m.group(1).split(","));
        Set<Instant> out = new TreeSet<>();
        for (LocalDate d = LocalDate.of(2026, 10, 19); d.isBefore(LocalDate.of(2026, 11, 5)); d = d.plusDays(1)) {
            String name = d.getDayOfWeek().getDisplayName(java.time.format.TextStyle.SHORT, java.util.Locale.ENGLISH);
            Instant at = ZonedDateTime.of(d, LocalTime.parse(m.group(2)), ZoneId.of(m.group(3)))
                    .toInstant();
            if ((days.isEmpty() || days.contains(name)) && !at.isBefore(NOW) && at.isBefore(END)) {
                out.add(at);
            }
        }
        return out;
    }

    @Test
    void whatAFormCannotExpressIsSaid() {
        String cron = HostSchedules.crontab(served(ODD));
        assertTrue(cron.contains(
                "# cannot be written as a cron line: full of bookings (Sailings, monthly): FREQ=MONTHLY;INTERVAL=2;BYDAY=1SU;BYHOUR=2:"
                        + " it leaves some out by counting from a date\n"));
        assertTrue(cron.contains("# cannot be written as a cron line: log of bookings (Sailings, logs): PT7M:"
                + " it divides neither an hour nor a day, and cron begins anew with each\n"));
        String timers = HostSchedules.timers(served(ODD));
        assertTrue(timers.contains("# cannot be written as a timer: full of bookings: FREQ=MONTHLY"));
        assertTrue(timers.contains("OnUnitActiveSec=420s"), "an interval of seven minutes a timer can keep");
        assertFalse(HostSchedules.crontab(served(PLAIN.with(false))).contains("$FIRTH_START full"), "switched off");
    }

    @Test
    void onlyDaysAndATimeArePlain() {
        assertEquals(
                new PlainWeek(Set.of(DayOfWeek.SUNDAY, DayOfWeek.SATURDAY), LocalTime.of(1, 5)),
                PlainWeek.of(Recurrences.cron("5 1 * * 6,7")).orElseThrow());
        for (String odd : List.of(
                "FREQ=MONTHLY;BYMONTHDAY=1;BYHOUR=2",
                "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;BYHOUR=2",
                "FREQ=WEEKLY;BYDAY=MO;BYHOUR=2,14",
                "FREQ=DAILY;BYHOUR=2;COUNT=3",
                "0 2 1 * *",
                "*/5 2 * * *")) {
            assertTrue(PlainWeek.of(WrittenRecurrence.read(odd)).isEmpty(), odd);
        }
    }
}
