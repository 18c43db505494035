package firth.bench;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Random;

/**
 * A made-up fleet as a fleet file: logs every 15 or 60 minutes to a near store and on to a far one, an incremental a day, a full a
 * week. Here a log is lost, there one comes late, a run fails, a database falls silent.
 */
final class ServedFleet {

    private static final int POLICIES = 10;
    private static final int STORES = 8;
    /** How many of a hundred databases have logs every quarter of an hour; the others every hour. */
    private static final int QUICK = 45;

    private final int databases;
    private final int days;
    private final Instant end;
    private long lines;

    /** @param end when the newest of it happened */
    ServedFleet(int databases, int days, Instant end) {
        this.databases = databases;
        this.days = days;
        this.end = end;
    }

    static String id(int d) {
        return "db-%04d".formatted(d);
    }

    static Duration interval(int d) {
        return Duration.ofMinutes(d % 100 < QUICK ? 15 : 60);
    }

    /** Writes it and says how many lines it has. */
    long write(Path file) throws IOException {
        try (BufferedWriter out = Files.newBufferedWriter(file)) {
            line(out, "{\"type\":\"site\",\"id\":\"north\",\"name\":\"Northquay\"}");
            line(out, "{\"type\":\"site\",\"id\":\"south\",\"name\":\"Southquay\"}");
            for (int s = 0; s < STORES; s++) {
                line(out, """
                        {"type":"store","id":"near-%d","name":"Quay near %d","site":"north","medium":"disk","role":"near","readBytesPerSecond":4e8,"capacityBytes":9e14}\
                        """.formatted(s, s));
                line(out, """
                        {"type":"store","id":"far-%d","name":"Quay far %d","site":"south","medium":"object","role":"far","readBytesPerSecond":2e8}\
                        """.formatted(s, s));
            }
            for (int p = 0; p < POLICIES; p++) {
                line(out, policy(p, 1, 100 + p, 18));
            }
            for (int d = 0; d < databases; d++) {
                database(out, d);
            }
        }
        return lines;
    }

    /**
     * The rules of a class.
     *
     * @param loss minutes that may be lost to a mishap
     * @param reach days of it that near copies are kept for
     */
    String policy(int p, int version, int loss, int reach) {
        return """
                {"type":"policy","id":"p%d","version":%d,"effectiveFrom":"%s","name":"Class %d",\
                "objective":{"mishap":"PT%dM","siteLoss":"PT3H","reach":"P18D"},\
                "schedules":[{"id":"logs","kind":"log","every":"PT1H","grace":"PT10M"},\
                {"id":"fulls","kind":"full","rrule":"FREQ=WEEKLY;BYDAY=SU;BYHOUR=%d;BYMINUTE=0","within":"PT4H"},\
                {"id":"incrementals","kind":"incr","rrule":"FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR,SA;BYHOUR=%d;BYMINUTE=0","within":"PT3H"}],\
                "retain":[{"role":"near","reach":"P%dD"},{"role":"far","reach":"P30D"}],"copies":{"count":2,"sites":2}}\
                """.formatted(p, version, end.minus(Duration.ofDays(days + 2L)), p, loss, p, p, reach);
    }

    private void line(Writer out, String text) throws IOException {
        out.write(text);
        out.write('\n');
        lines++;
    }

    private void database(Writer out, int d) throws IOException {
        Random random = new Random(d);
        String id = id(d);
        Instant begin = end.minus(Duration.ofDays(days));
        line(out, """
                {"type":"database","id":"%s","name":"%s","engine":"%s","site":"north","host":"host-%d","zone":"Europe/Lisbon","policy":"p%d","replayBytesPerSecond":5e7,"sizeBytes":%d,"inServiceFrom":"%s","labels":{"class":"c%d"}}\
                """.formatted(
                        id,
                        id,
                        d % 2 == 0 ? "PostgreSQL 16" : "MariaDB 11",
                        d / 20,
                        d % POLICIES,
                        40_000_000_000L + random.nextInt(1_000_000_000),
                        begin,
                        d % 7));
        data(out, d, begin, random);
        Duration every = interval(d);
        // One in two hundred says nothing any more.
        Instant last = d % 200 == 77 ? end.minus(Duration.ofHours(9)) : end;
        int n = 0;
        for (Instant at = begin; at.plus(every).isBefore(last); at = at.plus(every)) {
            if (random.nextInt(1_200) != 0) {
                line(out, log(d, n, at, at.plus(every), random.nextInt(300) == 0 ? 3 * every.toSeconds() : 20));
            }
            n++;
        }
    }

    /** What comes after the last of it. */
    String next(int d, int n, Instant from, Instant to) {
        return log(d, 1_000_000 + n, from, to, 0) + "\n";
    }

    /** Positions are seconds. */
    private static String log(int d, int n, Instant from, Instant until, long late) {
        Instant landed = until.plusSeconds(late);
        return """
                {"type":"backup","id":"%s-log-%d","database":"%s","kind":"log","bytes":%d,"from":%d,"to":%d,"fromTime":"%s","toTime":"%s","copies":[{"store":"near-%d","landed":"%s"},{"store":"far-%d","landed":"%s"}]}\
                """.formatted(
                        id(d),
                        n,
                        id(d),
                        10_000_000 + 977L * n % 100_000,
                        from.getEpochSecond(),
                        until.getEpochSecond(),
                        from,
                        until,
                        d % STORES,
                        landed,
                        d % STORES,
                        landed.plusSeconds(600));
    }

    private void data(Writer out, int d, Instant begin, Random random) throws IOException {
        String parent = null;
        Instant night = begin.plusSeconds(60L * random.nextInt(180));
        for (int day = 0; day < days; day++, night = night.plus(Duration.ofDays(1))) {
            String run = id(d) + "-run-" + day;
            if (day > 0 && random.nextInt(60) == 0) {
                line(out, """
                        {"type":"run","id":"%s","database":"%s","kind":"incr","started":"%s","ended":"%s","outcome":"failed","message":"no space left"}\
                        """.formatted(run, id(d), night, night.plusSeconds(300)));
                continue;
            }
            boolean full = day % 7 == 0;
            int seconds = (full ? 3_000 : 400) + random.nextInt(200);
            String backup = id(d) + "-data-" + day;
            line(out, """
                    {"type":"run","id":"%s","database":"%s","kind":"%s","started":"%s","ended":"%s","outcome":"ok"}\
                    """.formatted(run, id(d), full ? "full" : "incr", night, night.plusSeconds(seconds)));
            line(out, """
                    {"type":"backup","id":"%s","database":"%s","kind":"%s",%s"run":"%s","bytes":%d,"started":"%s","ended":"%s","from":%d,"to":%d,"copies":[{"store":"near-%d"},{"store":"far-%d","landed":"%s","lockedUntil":"%s"}]}\
                    """.formatted(
                            backup,
                            id(d),
                            full ? "full" : "incr",
                            full ? "" : "\"parent\":\"" + parent + "\",",
                            run,
                            (full ? 40_000_000_000L : 2_000_000_000L) + 10_000_000L * day,
                            night,
                            night.plusSeconds(seconds),
                            night.getEpochSecond(),
                            night.plusSeconds(seconds).getEpochSecond(),
                            d % STORES,
                            d % STORES,
                            night.plusSeconds(seconds + 1800),
                            night.plus(Duration.ofDays(40))));
            parent = backup;
        }
    }
}
