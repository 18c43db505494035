package firth.demo;

import firth.exchange.FleetFileWriter;
import java.io.IOException;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A simulated database whose logs are out of the common: of several streams, received continuously, or of a second lineage
 * since it was restored. It follows the Shore office policy.
 */
final class Passage {

    private static final ZoneId ZONE = ZoneId.of("Europe/Lisbon");
    private static final DateTimeFormatter NAMED = DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmm", Locale.ROOT);
    private static final Duration HOUR = Duration.ofHours(1);

    private final String id;
    private final String engine;
    private final List<String> streams;
    private final Instant now;
    private final Instant begin;
    private boolean streamed;
    private Optional<Instant> restoredAt = Optional.empty();
    private Optional<Instant> lostFrom = Optional.empty();
    private boolean held;

    Passage(String id, String engine, List<String> streams, Instant now) {
        this.id = id;
        this.engine = engine;
        this.streams = streams;
        this.now = now;
        this.begin = now.minus(Duration.ofDays(45)).truncatedTo(ChronoUnit.HOURS);
    }

    /** Its logs are received as they are written, 20 seconds behind. */
    Passage streamed() {
        streamed = true;
        return this;
    }

    /** It was restored to two hours and some minutes before this moment, and went on from there. */
    Passage restoredAt(Instant moment) {
        restoredAt = Optional.of(moment);
        return this;
    }

    /** Three hours of its last stream's logs were never backed up. */
    Passage losingLogsFrom(Instant moment) {
        lostFrom = Optional.of(moment);
        return this;
    }

    /** Its first full is kept for an audit. */
    Passage held() {
        held = true;
        return this;
    }

    void write(FleetFileWriter out) throws IOException {
        out.write(database());
        for (String line : data()) {
            out.write(line);
        }
        for (Instant at = begin; !at.plus(HOUR).plusSeconds(70).isAfter(now); at = at.plus(HOUR)) {
            for (String stream : streams) {
                if (!isLost(stream, at)) {
                    for (String line : logs(stream, at)) {
                        out.write(line);
                    }
                }
            }
        }
    }

    private boolean isLost(String stream, Instant at) {
        return stream.equals(streams.get(streams.size() - 1))
                && lostFrom.filter(l -> !at.isBefore(l) && at.isBefore(l.plus(HOUR.multipliedBy(3))))
                        .isPresent();
    }

    private String database() {
        String lineages = restoredAt
                .map(r -> String.format(
                        Locale.ROOT,
                        "{\"id\":\"1\"},{\"id\":\"2\",\"parent\":\"1\",\"forkPos\":{%s},\"openedAt\":\"%s\"}",
                        streams.stream()
                                .map(s -> String.format(Locale.ROOT, "\"%s\":%d", s, position(s, backTo(r))))
                                .collect(Collectors.joining(",")),
                        r))
                .orElse("{\"id\":\"1\"}");
        return String.format(
                Locale.ROOT,
                """
                {"type":"database","id":"%s","name":"%s","engine":"%s","site":"northquay","zone":"%s","policy":"shore-office",\
                "host":"northquay-2","system":"gates","owner":"Operations","labels":{"class":"shore-office"},"route":"northquay",\
                "inServiceFrom":"%s","streams":[%s],"sizeBytes":2.6e10,"replayBytesPerSecond":4e7,"lineages":[%s]}""",
                id,
                id,
                engine,
                ZONE,
                begin,
                streams.stream().map(s -> '"' + s + '"').collect(Collectors.joining(",")),
                lineages);
    }

    private static Instant backTo(Instant restored) {
        return restored.minus(Duration.ofHours(2)).truncatedTo(ChronoUnit.HOURS);
    }

    /** Where a stream stands at a moment: each at a pace of its own, and after a restore on from where that went back to. */
    private long position(String stream, Instant at) {
        long pace = 3 + 2L * streams.indexOf(stream);
        Instant restored = restoredAt.orElse(Instant.MAX);
        Duration since = at.isAfter(restored)
                ? Duration.between(begin, backTo(restored)).plus(Duration.between(restored, at))
                : Duration.between(begin, at);
        return 1_000 + since.toSeconds() * pace;
    }

    private String lineage(Instant at) {
        return restoredAt.filter(at::isAfter).isPresent() ? "2" : "1";
    }

    private List<String> data() {
        List<String> out = new ArrayList<>();
        String full = null;
        for (LocalDate day = begin.atZone(ZONE).toLocalDate(); moment(day).isBefore(now); day = day.plusDays(1)) {
            Instant started = moment(day);
            if (started.isAfter(begin) && !started.plusSeconds(1_000).isAfter(now)) {
                boolean isFull = full == null || day.getDayOfWeek() == DayOfWeek.FRIDAY;
                String kind = isFull ? "full" : "diff";
                String name = id + "-" + kind + "-" + NAMED.format(started.atZone(ZONE));
                out.add(data(name, kind, isFull ? "null" : '"' + full + '"', started));
                if (held && full == null) {
                    out.add(String.format(Locale.ROOT, """
                            {"type":"hold","id":"%s-audit","backup":"%s","reason":"yearly audit","until":"%s"}""", id, name, now.plus(Duration.ofDays(60))));
                }
                full = isFull ? name : full;
            }
        }
        return out;
    }

    private static Instant moment(LocalDate day) {
        return ZonedDateTime.of(day, LocalTime.of(22, 43), ZONE).toInstant();
    }

    private String data(String name, String kind, String parent, Instant started) {
        Instant ended = started.plusSeconds(kind.equals("full") ? 900 : 240);
        String positions = streams.stream()
                .map(s -> String.format(Locale.ROOT, "\"%s\":%d", s, position(s, ended)))
                .collect(Collectors.joining(","));
        return String.format(
                Locale.ROOT,
                """
                {"type":"backup","id":"%s","database":"%s","kind":"%s","parent":%s,"started":"%s","ended":"%s","bytes":%s,\
                "lineage":"%s","to":{%s},"selfContained":true,"copies":[%s]}""",
                name,
                id,
                kind,
                parent,
                started,
                ended,
                kind.equals("full") ? "1.2e10" : "1.5e9",
                lineage(ended),
                positions,
                copies(name, ended));
    }

    private List<String> logs(String stream, Instant from) {
        Instant to = from.plus(HOUR);
        Instant restored = restoredAt.orElse(Instant.MAX);
        if (from.isBefore(restored) && restored.isBefore(to)) {
            return List.of(log(stream, from, restored), log(stream, restored.plusMillis(1), to));
        }
        return List.of(log(stream, from, to));
    }

    private String log(String stream, Instant from, Instant to) {
        String name = id + "-log-" + stream + "-" + NAMED.format(from.atZone(ZoneOffset.UTC));
        return String.format(
                Locale.ROOT,
                """
                {"type":"backup","id":"%s","database":"%s","kind":"log","stream":"%s","lineage":"%s","from":%d,"to":%d,\
                "fromTime":"%s","toTime":"%s","started":"%s",%s"bytes":2.2e7,"copies":[%s]}""",
                name,
                id,
                stream,
                lineage(to),
                position(stream, from),
                position(stream, to),
                from,
                to,
                streamed ? from : to,
                streamed ? "\"streamed\":true,\"lag\":\"PT20S\"," : "",
                copies(name, to));
    }

    private String copies(String name, Instant ended) {
        String near = String.format(
                Locale.ROOT,
                "{\"store\":\"quay-near\",\"path\":\"%s\"%s%s}",
                "/quay-near/" + id + "/" + name,
                streamed ? "" : ",\"landed\":\"" + ended.plusSeconds(70) + "\"",
                ended.isBefore(now.minus(Duration.ofDays(32))) && !held
                        ? ",\"gone\":\"" + ended.plus(Duration.ofDays(32)) + "\""
                        : "");
        Instant later = ended.plus(Duration.ofMinutes(40));
        String far = String.format(
                Locale.ROOT,
                "{\"store\":\"harbour-far\",\"landed\":\"%s\",\"lockedUntil\":\"%s\"}",
                later,
                later.plus(Duration.ofDays(14)));
        return later.isAfter(now) ? near : near + "," + far;
    }
}
