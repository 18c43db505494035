package firth.demo;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Positions;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import firth.core.model.Trigger;
import firth.exchange.FleetFileWriter;
import java.io.IOException;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;

/** Lives through one simulated database's history up to now and writes down what its backups would have reported. */
final class Voyage {

    static final ZoneId ZONE = ZoneId.of("Europe/Lisbon");
    private static final DateTimeFormatter DAY =
            DateTimeFormatter.ofPattern("yyyyMMdd", Locale.ROOT).withZone(ZoneId.of("UTC"));
    private static final DateTimeFormatter MINUTE =
            DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmm", Locale.ROOT).withZone(ZoneId.of("UTC"));

    private final Ferry ferry;
    private final Instant now;
    private final Instant begin;
    private final Random random;
    private final FleetFileWriter out;

    @SuppressWarnings("NullAway.Init")
    private String newestData;

    private String newestFull = "";

    Voyage(Ferry ferry, Instant now, long seed, FleetFileWriter out) {
        this.ferry = ferry;
        this.now = now;
        this.begin = now.minus(ferry.inService).truncatedTo(ChronoUnit.HOURS);
        this.random = new Random(seed ^ ferry.id.hashCode());
        this.out = out;
    }

    void write() throws IOException {
        out.write(database());
        data();
        if (ferry.standby.isPresent()) {
            standby(ferry.standby.get());
        }
        if (ferry.rhythm != Ferry.Rules.KIOSKS) {
            logs(Duration.ofMinutes(ferry.rhythm == Ferry.Rules.SAILINGS ? 10 : 60));
        }
    }

    private String database() {
        StringBuilder stops = new StringBuilder();
        for (Stop stop : stops()) {
            stops.append(stops.isEmpty() ? "" : ",")
                    .append(String.format(Locale.ROOT, "{\"from\":\"%s\",\"to\":\"%s\"}", stop.from, stop.to));
        }
        return String.format(
                Locale.ROOT,
                """
                {"type":"database","id":"%s","name":"%s","engine":"%s","site":"%s","zone":"%s","inServiceFrom":"%s",%s\
                "host":"%s","system":"%s","identity":"%s","owner":"%s","labels":{%s},"route":"%s",\
                "sizeBytes":%s,"replayBytesPerSecond":5e7,%s"stopped":[%s]}""",
                ferry.id,
                ferry.id,
                ferry.engine,
                ferry.site,
                ZONE,
                begin,
                ferry.assigned ? "\"policy\":\"" + ferry.rhythm.id() + "\"," : "",
                ferry.host(),
                ferry.assigned ? ferry.system() : "harbour",
                ferry.identity(),
                ferry.owner(),
                ferry.assigned ? "\"class\":\"" + ferry.rhythm.id() + "\"" : "",
                ferry.route(),
                ferry.gigabytes * 1e9,
                DataRun.components(ferry),
                stops);
    }

    /** Another machine at the other port follows it; a full was taken from it by hand. */
    private void standby(String name) throws IOException {
        out.write(String.format(
                Locale.ROOT,
                """
                {"type":"database","id":"%s","name":"%s","engine":"%s","site":"southquay","zone":"%s","inServiceFrom":"%s",\
                "standbyOf":"%s","host":"southquay-3","system":"%s","identity":"%s","owner":"%s","route":"southquay","sizeBytes":%s}""",
                name,
                name,
                ferry.engine,
                ZONE,
                begin,
                ferry.id,
                ferry.system(),
                ferry.identity(),
                ferry.owner(),
                ferry.gigabytes * 1e9));
        Instant ended = ferry.standbyFull.plusSeconds(6_000);
        out.write(String.format(Locale.ROOT, """
                {"type":"run","id":"run-%s-full","database":"%s","kind":"full","trigger":"hand","started":"%s","ended":"%s","outcome":"ok"}""", name, name, ferry.standbyFull, ended));
        out.write(String.format(
                Locale.ROOT,
                """
                {"type":"backup","id":"%s-full","database":"%s","kind":"full","run":"run-%s-full","started":"%s","ended":"%s","bytes":%s,\
                "from":%d,"to":%d,"copies":[{"store":"south-near"}]}""",
                name,
                name,
                name,
                ferry.standbyFull,
                ended,
                ferry.gigabytes * 0.45e9,
                position(ferry.standbyFull),
                position(ended)));
    }

    private record Stop(Instant from, Instant to) {
        boolean holds(Instant t) {
            return t.isAfter(from) && !t.isAfter(to);
        }
    }

    private List<Stop> stops() {
        List<Stop> out = new ArrayList<>();
        LocalDate first = begin.atZone(ZONE).toLocalDate();
        for (LocalDate d = first;
                ferry.closedWeekends && d.atStartOfDay(ZONE).toInstant().isBefore(now);
                d = d.plusDays(1)) {
            if (d.getDayOfWeek() == DayOfWeek.SATURDAY) {
                out.add(new Stop(at(d, 20, 0), at(d.plusDays(1), 6, 0)));
            }
        }
        return out;
    }

    private static Instant at(LocalDate day, int hour, int minute) {
        return ZonedDateTime.of(day, LocalTime.of(hour, minute), ZONE).toInstant();
    }

    private void data() throws IOException {
        LocalDate first = begin.atZone(ZONE).toLocalDate();
        for (LocalDate d = first; !d.atStartOfDay(ZONE).toInstant().isAfter(now); d = d.plusDays(1)) {
            boolean weekly = ferry.rhythm == Ferry.Rules.SAILINGS
                    ? d.getDayOfWeek() == DayOfWeek.SATURDAY
                    : d.getDayOfWeek() == DayOfWeek.FRIDAY;
            Kind kind = ferry.rhythm == Ferry.Rules.KIOSKS || weekly || newestFull.isEmpty()
                    ? Kind.FULL
                    : ferry.rhythm == Ferry.Rules.SAILINGS ? Kind.INCR : Kind.DIFF;
            Instant due = ferry.rhythm == Ferry.Rules.KIOSKS ? at(d, 2, 30) : at(d, 22, 40);
            Optional<Instant> byHand = ferry.fullByHand.filter(
                    h -> h.atZone(ZONE).toLocalDate().equals(due.atZone(ZONE).toLocalDate()));
            if (byHand.isPresent()) {
                dataBackup(Kind.FULL, byHand.get());
            }
            if (due.isAfter(begin)) {
                dataBackup(kind, due.plusSeconds(random.nextInt(240)));
            }
        }
    }

    private void dataBackup(Kind kind, Instant started) throws IOException {
        double share = kind == Kind.FULL ? 0.45 : kind == Kind.DIFF ? 0.06 : 0.03;
        double weeks = Duration.between(started, now).toHours() / 168.0;
        double noise = ferry.weeklyGrowth > 0 ? 0.02 : 0.2;
        double grown = 1 - ferry.weeklyGrowth * weeks - noise / 2 + noise * random.nextDouble();
        double bytes = Math.rint(ferry.gigabytes * 1e9 * share * grown);
        boolean slow = ferry.slow.test(started);
        Instant ended = started.plusSeconds((60 + (long) (bytes / 3e7)) * (slow ? 5 : 2) / 2);
        String id = ferry.id + "-" + kind.word() + "-" + DAY.format(started) + (isByHand(started) ? "-hand" : "");
        if (ferry.dataFails.test(started)) {
            failed(id, kind, started, started.plusSeconds(40 + random.nextInt(200)));
            return;
        }
        if (ended.isAfter(now)) {
            return;
        }
        out.write(new Run(
                "run-" + id,
                ferry.id,
                kind,
                Optional.of(isByHand(started) ? Trigger.HAND : Trigger.SCHEDULE),
                Optional.empty(),
                started,
                Optional.of(ended),
                Outcome.OK,
                Optional.empty(),
                DataRun.told(started, ended, bytes, slow)));
        Optional<String> parent =
                kind == Kind.FULL ? Optional.empty() : Optional.of(kind == Kind.DIFF ? newestFull : newestData);
        boolean positions = ferry.rhythm != Ferry.Rules.KIOSKS;
        out.write(new Backup(
                id,
                ferry.id,
                kind,
                parent,
                Optional.of("run-" + id),
                started,
                ended,
                OptionalDouble.of(bytes),
                Optional.empty(),
                positions ? Map.of("main", new Positions(position(started), position(ended))) : Map.of(),
                Optional.empty(),
                ended,
                !positions,
                false,
                Duration.ZERO,
                Optional.empty(),
                copies(id, kind, started, ended),
                DataRun.traits(ferry, started, bytes)));
        newestData = id;
        newestFull = kind == Kind.FULL ? id : newestFull;
    }

    private boolean isByHand(Instant started) {
        return ferry.fullByHand.filter(started::equals).isPresent();
    }

    private void failed(String id, Kind kind, Instant started, Instant ended) throws IOException {
        if (!ended.isAfter(now)) {
            out.write(new Run(
                    "run-" + id,
                    ferry.id,
                    kind,
                    Optional.of(Trigger.SCHEDULE),
                    Optional.empty(),
                    started,
                    Optional.of(ended),
                    Outcome.FAILED,
                    Optional.of(ferry.message),
                    DataRun.failed(ferry.message)));
        }
    }

    private void logs(Duration every) throws IOException {
        List<Stop> stops = stops();
        Instant from = begin;
        for (Instant to = begin.plus(every); !to.isAfter(now); to = to.plus(every)) {
            Instant end = to;
            if (stops.stream().anyMatch(s -> s.holds(end))) {
                continue;
            }
            String id = ferry.id + "-log-" + MINUTE.format(to);
            if (ferry.logFails.test(to)) {
                failed(id, Kind.LOG, to, to.plusSeconds(20 + random.nextInt(30)));
            } else if (ferry.logLost.test(to)) {
                from = to;
            } else {
                Instant ended = to.plusSeconds(15 + random.nextInt(60));
                if (ended.isAfter(now)) {
                    return;
                }
                out.write(new Backup(
                        id,
                        ferry.id,
                        Kind.LOG,
                        Optional.empty(),
                        Optional.empty(),
                        to,
                        ended,
                        OptionalDouble.of(
                                Math.rint(ferry.gigabytes * 2e4 * every.toMinutes() * (0.5 + random.nextDouble()))),
                        Optional.empty(),
                        Map.of("main", new Positions(position(from), position(to))),
                        Optional.of(new Backup.LogTimes(from, to)),
                        ended,
                        false,
                        false,
                        Duration.ZERO,
                        Optional.empty(),
                        copies(id, Kind.LOG, to, ended),
                        ferry.rhythm == Ferry.Rules.SAILINGS ? DataRun.logTraits(ferry, to) : ""));
                from = to;
            }
        }
    }

    private String path(String store, String id) {
        return "{\"path\":\"/" + store + "/" + ferry.id + "/" + id + "\"}";
    }

    private List<Copy> copies(String id, Kind kind, Instant due, Instant ended) {
        List<Copy> out = new ArrayList<>();
        String near = ferry.site.equals("southquay") ? "south-near" : "quay-near";
        String path = path(near, id);
        Optional<Instant> gone = ferry.goneAfter.map(ended::plus);
        if (kind == Kind.FULL && ferry.fullDeleted.test(due)) {
            gone = Optional.of(ended.plus(Duration.ofDays(1)));
        }
        boolean spoiled = kind == Kind.LOG && ferry.spoiled.test(due);
        land(
                out,
                new Copy(
                        near,
                        ended,
                        false,
                        kind == Kind.FULL && ferry.fullLocked.test(due)
                                ? Optional.of(now.plus(Duration.ofDays(9)))
                                : Optional.empty(),
                        gone,
                        spoiled
                                ? Optional.of(new Spoilage(now.minus(Duration.ofHours(31)), Optional.empty()))
                                : Optional.empty(),
                        OptionalDouble.empty(),
                        path));
        Instant far = ended.plus(ferry.farLag).plusSeconds(random.nextInt(300));
        land(
                out,
                new Copy(
                        ferry.site.equals("southquay") ? "quay-near" : "harbour-far",
                        far,
                        true,
                        ferry.lock.isZero() || ferry.site.equals("southquay")
                                ? Optional.empty()
                                : Optional.of(far.plus(ferry.lock)),
                        gone.filter(g -> kind != Kind.LOG),
                        Optional.empty(),
                        OptionalDouble.empty(),
                        path(ferry.site.equals("southquay") ? "quay-near" : "harbour-far", id)));
        boolean firstOfMonth = kind == Kind.FULL && ended.atZone(ZONE).getDayOfMonth() <= 7;
        if (firstOfMonth && ferry.rhythm == Ferry.Rules.SAILINGS) {
            Instant deep = ended.plus(Duration.ofDays(2));
            land(
                    out,
                    new Copy(
                            "skerry-deep",
                            deep,
                            true,
                            Optional.of(deep.plus(Duration.ofDays(180))),
                            Optional.empty(),
                            Optional.empty(),
                            OptionalDouble.empty(),
                            path("skerry-deep", id)));
        }
        return out;
    }

    private void land(List<Copy> out, Copy copy) {
        if (!copy.landed().isAfter(now)) {
            out.add(
                    copy.gone().filter(now::isBefore).isEmpty()
                            ? copy
                            : new Copy(
                                    copy.store(),
                                    copy.landed(),
                                    copy.statedLanding(),
                                    copy.lockedUntil(),
                                    Optional.empty(),
                                    copy.spoiled(),
                                    copy.bytes(),
                                    copy.rest()));
        }
    }

    /** A log position that grows steadily with time. */
    private long position(Instant t) {
        return 40_000 + Duration.between(begin, t).toSeconds() * (3 + Math.floorMod(ferry.id.hashCode(), 5));
    }
}
