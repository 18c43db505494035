package firth.demo;

import firth.demo.Ferry.Rules;
import firth.exchange.FleetFileWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Locale;

/**
 * The demo fleet: a ferry line with sixteen databases at two ports, and the stories docs/demo.md tells. The same seed
 * and moment always give the same facts.
 */
public final class SaltmarshFerries {

    public static final long SEED = 20_261_123L;

    /** The parts the facts come in, one per source. */
    public enum Part {
        FLEET("fleet list"),
        NORTHQUAY("Northquay hosts"),
        SOUTHQUAY("Southquay hosts");

        private final String source;

        Part(String source) {
            this.source = source;
        }

        public String source() {
            return source;
        }
    }

    private final Instant now;
    private final long seed;

    public SaltmarshFerries(Instant now, long seed) {
        this.now = now.truncatedTo(ChronoUnit.SECONDS);
        this.seed = seed;
    }

    /** Writes one part as a fleet file. */
    public void write(Part part, OutputStream to) throws IOException {
        try (FleetFileWriter out = new FleetFileWriter(to)) {
            if (part == Part.FLEET) {
                for (String line : fixed().split("\n")) {
                    out.write(line);
                }
                out.write(sailings());
                out.write(shoreOffice());
                out.write(kiosks());
                out.write(shoreOfficeOnSaturdays());
                out.write(portWorks());
                for (String sighting : sightings()) {
                    out.write(sighting);
                }
                for (String drill : drills()) {
                    out.write(drill);
                }
            } else {
                for (Ferry ferry : ferries()) {
                    if (ferry.site.equals(part == Part.SOUTHQUAY ? "southquay" : "northquay")) {
                        new Voyage(ferry, now, seed, out).write();
                    }
                }
                if (part == Part.NORTHQUAY) {
                    for (Passage passage : passages()) {
                        passage.write(out);
                    }
                }
            }
        }
    }

    private static String fixed() throws IOException {
        try (InputStream in = SaltmarshFerries.class.getResourceAsStream("fleet.ndjson")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8).strip();
        }
    }

    private Instant ago(Duration time) {
        return now.minus(time);
    }

    /** Moves a stretch of time back where it would end so late in the evening that the night's backups came with its end. */
    private static Instant endingBeforeTheNight(Instant begin, Duration length) {
        ZonedDateTime end = begin.plus(length).atZone(Voyage.ZONE);
        ZonedDateTime night = end.with(LocalTime.of(22, 0));
        return end.isBefore(night) ? begin : begin.minus(Duration.between(night, end));
    }

    List<Ferry> ferries() {
        Instant stopped = ago(Duration.ofHours(50).plusMinutes(6));
        Duration unnoticed = Duration.ofHours(21).plusMinutes(15);
        Instant outage = endingBeforeTheNight(ago(Duration.ofDays(9)), unnoticed);
        Instant blink = ago(Duration.ofHours(3).plusMinutes(20));
        Instant refused = ago(Duration.ofDays(21));
        Instant slow = ago(Duration.ofDays(6)).truncatedTo(ChronoUnit.DAYS).plus(Duration.ofHours(20));
        Instant alone = slow.minus(Duration.ofDays(4));
        Duration night = Duration.ofHours(8);
        return List.of(
                new Ferry("bookings", "PostgreSQL 15", "northquay", Rules.SAILINGS, 412)
                        .slowedBetween(slow, slow.plus(night)),
                new Ferry("manifests", "PostgreSQL 15", "northquay", Rules.SAILINGS, 190)
                        .failing(
                                stopped::isBefore,
                                stopped::isBefore,
                                "Quay near refuses writes: quota of manifests used up")
                        .lockingFull(t -> t.isAfter(ago(Duration.ofDays(34))) && t.isBefore(ago(Duration.ofDays(27)))),
                new Ferry("fares", "PostgreSQL 16", "northquay", Rules.SAILINGS, 60)
                        .slowedBetween(alone, alone.plus(night))
                        .unencryptedSince(ago(Duration.ofDays(3))),
                new Ferry("berths", "MariaDB 10.11", "northquay", Rules.SAILINGS, 88)
                        .slowedBetween(slow, slow.plus(night))
                        .losingLogs(outage, outage.plus(unnoticed))
                        .fullByHandAt(outage.plus(unnoticed)),
                new Ferry("harbour-log", "PostgreSQL 16", "northquay", Rules.SAILINGS, 35)
                        .losingLogs(blink, blink.plus(Duration.ofMinutes(35)))
                        .failing(t -> false, blink::isBefore, "runner restarted"),
                new Ferry("tides", "SQL Server 2022", "northquay", Rules.SAILINGS, 24)
                        .slowedBetween(slow, slow.plus(night))
                        .standingBy("tides-south", ago(Duration.ofDays(5).plusHours(3)))
                        .spoiling(t -> t.isAfter(ago(Duration.ofDays(4)))
                                && t.isBefore(ago(Duration.ofDays(3).plusHours(20)))),
                new Ferry("crew-rota", "MariaDB 10.11", "northquay", Rules.SHORE_OFFICE, 12)
                        .slowedBetween(slow, slow.plus(night))
                        .closedAtWeekends(),
                new Ferry("cargo", "Oracle 19", "northquay", Rules.SHORE_OFFICE, 1040)
                        .growing(0.03)
                        .slowedBetween(slow, slow.plus(night))
                        .inParts(List.of("customs", "freight", "waybills"), List.of("tariffs"))
                        .copying(Duration.ofMinutes(35), Duration.ofDays(45)),
                new Ferry("fuel", "PostgreSQL 15", "northquay", Rules.SHORE_OFFICE, 18)
                        .copying(Duration.ofHours(26), Duration.ZERO),
                new Ferry("payroll", "SQL Server 2022", "southquay", Rules.SHORE_OFFICE, 41)
                        .losingFull(t -> t.isAfter(ago(Duration.ofDays(20))) && t.isBefore(ago(Duration.ofDays(13)))),
                new Ferry("loyalty", "PostgreSQL 16", "southquay", Rules.SHORE_OFFICE, 27)
                        .inServiceFor(Duration.ofDays(13).plusHours(6)),
                new Ferry("kiosk-north", "SQLite 3", "northquay", Rules.KIOSKS, 3),
                new Ferry("kiosk-south", "SQLite 3", "southquay", Rules.KIOSKS, 3),
                new Ferry("webshop", "MySQL 8", "southquay", Rules.KIOSKS, 9)
                        .failing(t -> false, refused::isBefore, "permission denied for table orders")
                        .deletedByAge(Duration.ofDays(11)),
                new Ferry("lost-property", "MySQL 8", "southquay", Rules.KIOSKS, 2).on("southquay-2"),
                new Ferry("moorings", "MariaDB 10.11", "southquay", Rules.KIOSKS, 6).withoutPolicy());
    }

    private List<Passage> passages() {
        Instant hour = now.truncatedTo(ChronoUnit.HOURS);
        return List.of(
                new Passage("season-tickets", "PostgreSQL 16", List.of("main"), now)
                        .restoredAt(hour.minus(Duration.ofDays(9)).plus(Duration.ofMinutes(20)))
                        .held(),
                new Passage("gate-counters", "Oracle 19", List.of("east", "west"), now)
                        .losingLogsFrom(hour.minus(Duration.ofDays(5))),
                new Passage("radar", "PostgreSQL 16", List.of("main"), now).streamed());
    }

    private String sailings() {
        return String.format(Locale.ROOT, """
                {"type":"policy","id":"sailings","version":1,"effectiveFrom":"%s","name":"Sailings","enabled":true,\
                "objective":{"mishap":"PT15M","siteLoss":"PT1H","sabotage":"PT4H","reach":"P18D","restoreTime":"PT2H","drillEvery":"P90D"},\
                "schedules":[{"id":"weekly","kind":"full","rrule":"FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40","within":"PT4H"},\
                {"id":"nightly","kind":"incr","cron":"40 22 * * 0-5","within":"PT4H"},\
                {"id":"logs","kind":"log","every":"PT10M","grace":"PT5M"}],\
                "openHours":[{"days":["MO","TU","WE","TH","FR","SA","SU"],"from":"21:00","to":"07:00"}],\
                "retain":[{"role":"near","reach":"P18D","fulls":2},{"role":"far","reach":"P18D","lock":"P30D"},\
                {"role":"deep","rungs":{"month":9}}],"copies":{"stores":2,"offsite":1},\
                "demands":{"compressed":true,"encrypted":true}}""", ago(Duration.ofDays(400)));
    }

    private String shoreOffice() {
        return String.format(Locale.ROOT, """
                {"type":"policy","id":"shore-office","version":1,"effectiveFrom":"%s","name":"Shore office","enabled":true,\
                "objective":{"mishap":"PT4H","siteLoss":"PT8H","reach":"P18D"},\
                "schedules":[{"id":"weekly","kind":"full","rrule":"FREQ=WEEKLY;BYDAY=FR;BYHOUR=22;BYMINUTE=40","within":"PT5H","mustFinish":true},\
                {"id":"nightly","kind":"diff","cron":"40 22 * * 0-4,6","within":"PT4H"},\
                {"id":"logs","kind":"log","every":"PT1H","grace":"PT15M"}],\
                "openHours":[{"days":["MO","TU","WE","TH","FR"],"from":"21:30","to":"06:30"},\
                {"days":["SA","SU"],"from":"00:00","to":"24:00"}],\
                "retain":[{"role":"near","reach":"P18D"},{"role":"far","fulls":3}],\
                "rateLimits":[{"bytesPerSecond":4e8,"hours":"closed"},\
                {"bytesPerSecond":1.2e8,"days":["MO","TU","WE","TH","FR"],"from":"08:00","to":"18:00","store":"harbour-far"}],\
                "sourceLogs":{"deletedBy":"engine","afterCopies":1}}""", ago(Duration.ofDays(400)));
    }

    /** From the Friday to come on the Shore office takes its fulls on Saturdays too, when Quay near is busiest. */
    private String shoreOfficeOnSaturdays() {
        Instant friday = now.atZone(Voyage.ZONE)
                .with(TemporalAdjusters.next(DayOfWeek.FRIDAY))
                .truncatedTo(ChronoUnit.DAYS)
                .toInstant();
        return shoreOffice()
                .replace("\"version\":1", "\"version\":2")
                .replaceFirst("\"effectiveFrom\":\"[^\"]*\"", "\"effectiveFrom\":\"" + friday + "\"")
                .replace("BYDAY=FR", "BYDAY=SA")
                .replace("0-4,6", "0-5")
                .replace(
                        "\"name\":",
                        "\"putInForce\":{\"by\":\"Maren Holt\",\"at\":\"" + now.minus(Duration.ofDays(2))
                                + "\",\"why\":\"Friday nights are for the month's accounts\"},\"name\":");
    }

    /** On the Wednesday to come nobody may run backups for a while. */
    private String portWorks() {
        ZonedDateTime wednesday = now.atZone(Voyage.ZONE)
                .with(TemporalAdjusters.next(DayOfWeek.WEDNESDAY))
                .truncatedTo(ChronoUnit.DAYS);
        return String.format(
                Locale.ROOT,
                """
                {"type":"closure","id":"port-works","policy":"shore-office","from":"%s","to":"%s","reason":"port works"}""",
                wednesday.plusHours(21).toInstant(),
                wednesday.plusHours(23).plusMinutes(30).toInstant());
    }

    /** What runners saw on the hosts last night: one nobody enrolled, and a copy of fares that goes by its name. */
    private List<String> sightings() {
        Instant seen = now.minus(Duration.ofHours(7)).truncatedTo(ChronoUnit.MINUTES);
        String line = """
                {"type":"sighting","id":"%s","database":"%s","identity":"%s","host":"%s","engine":"%s","seen":"%s"}""";
        return List.of(
                String.format(
                        Locale.ROOT,
                        line,
                        "northquay-3:pilots",
                        "pilots",
                        "7466001122",
                        "northquay-3",
                        "PostgreSQL 16",
                        seen),
                String.format(
                        Locale.ROOT,
                        line,
                        "southquay-2:fares",
                        "fares",
                        "7466009900",
                        "southquay-2",
                        "PostgreSQL 16",
                        seen));
    }

    /** Restores done to prove that they work: one that did, one nobody looked at afterwards, and one that failed. */
    private List<String> drills() {
        String line = """
                {"type":"drill","id":"drill-%s","database":"%s","moment":"%s","reached":"%s","started":"%s","ended":"%s","outcome":"%s",\
                "checks":[%s],"message":"%s"}""";
        Instant bookings = ago(Duration.ofDays(24));
        Instant fares = ago(Duration.ofDays(5).plusHours(2));
        Instant cargo = ago(Duration.ofDays(12));
        return List.of(
                String.format(
                        Locale.ROOT,
                        line,
                        "bookings",
                        "bookings",
                        bookings.minusSeconds(90_000),
                        bookings.minusSeconds(90_000),
                        bookings,
                        bookings.plusSeconds(640),
                        "ok",
                        "\"row counts\",\"sailings of the day\"",
                        "restored beside it as bookings-drill"),
                String.format(
                        Locale.ROOT,
                        line,
                        "fares",
                        "fares",
                        fares.minusSeconds(40_000),
                        fares.minusSeconds(40_000),
                        fares,
                        fares.plusSeconds(1_300),
                        "ok",
                        "",
                        "refreshed the test database"),
                String.format(
                        Locale.ROOT,
                        line,
                        "cargo",
                        "cargo",
                        cargo.minusSeconds(70_000),
                        cargo.minusSeconds(200_000),
                        cargo,
                        cargo.plusSeconds(21_600),
                        "failed",
                        "",
                        "the schema tariffs was in none of the backups"));
    }

    private String kiosks() {
        return String.format(Locale.ROOT, """
                {"type":"policy","id":"kiosks","version":1,"effectiveFrom":"%s","name":"Kiosks","enabled":true,\
                "objective":{"mishap":"PT26H","siteLoss":"PT30H"},\
                "schedules":[{"id":"nightly","kind":"full","cron":"30 2 * * *","within":"PT3H","grace":"PT4H"}],\
                "retain":[{"role":"near","fulls":14},{"role":"far","fulls":7}]}""", ago(Duration.ofDays(400)));
    }
}
