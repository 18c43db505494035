package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.exchange.FleetFileReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** History page by page against the same worked out from a plain list. */
class EntriesTest {

    private static final Instant BEGIN = Instant.parse("2026-11-01T00:00:00Z");
    private static final String[] KINDS = {"full", "incr", "log", "log", "log", "config"};

    @TempDir
    private Path directory;

    private FactStore store;
    private final Random random = new Random(7);
    private final List<Line> lines = new ArrayList<>();

    /** What one line of history is expected to be. */
    private record Line(String id, String database, String kind, int started, int ended, String outcome) {
        String outcomeAt(int now) {
            return ended > now ? "running" : outcome;
        }
    }

    private record From(String source, Optional<Instant> newestFact) implements FactStore.Delivery {}

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void write() throws IOException {
        store = FactStore.open(directory.resolve("firth.db"));
        List<String> records = new ArrayList<>();
        for (int n = 0; n < 400; n++) {
            String database = "d" + random.nextInt(15);
            String kind = KINDS[random.nextInt(KINDS.length)];
            int started = random.nextInt(2_000);
            int ended = started + 1 + random.nextInt(30);
            int way = random.nextInt(4);
            if (way > 0) {
                String outcome = way == 1 ? "failed" : "ok";
                records.add("""
                        {"type":"run","id":"r%s","database":"%s","kind":"%s","started":"%s","ended":"%s","outcome":"%s","message":"told %s"}""".formatted(
                                n, database, kind, at(started), at(ended), outcome, n % 3 == 0 ? "50%_off" : "plain"));
                if (way != 2) {
                    lines.add(new Line("r" + n, database, kind, started, ended, outcome));
                }
            }
            if (way == 0 || way == 2) {
                records.add("""
                        {"type":"backup","id":"b%s","database":"%s","kind":"%s",%s"started":"%s","ended":"%s","from":1,"to":2,%s"copies":[{"store":"s%s"}]}""".formatted(
                                n,
                                database,
                                kind,
                                way == 2 ? "\"run\":\"r" + n + "\"," : "",
                                at(started),
                                at(ended),
                                kind.equals("log")
                                        ? "\"fromTime\":\"%s\",\"toTime\":\"%s\",".formatted(at(started), at(ended))
                                        : "",
                                n % 2));
                lines.add(new Line(way == 2 ? "r" + n : "b" + n, database, kind, started, ended, "ok"));
            }
        }
        java.util.Collections.shuffle(records, random);
        take(records);
    }

    private void take(List<String> records) throws IOException {
        byte[] file = String.join("\n", records).getBytes(StandardCharsets.UTF_8);
        var report = store.write(
                catalog -> FleetFileReader.read(new ByteArrayInputStream(file), "test", catalog),
                r -> new From("test", r.newestFact()),
                BEGIN);
        assertEquals(List.of(), report.rejected());
    }

    private static Instant at(int minute) {
        return BEGIN.plusSeconds(60L * minute);
    }

    private List<Entry> all(EntryFilter filter, int page) {
        List<Entry> out = new ArrayList<>();
        try (Snapshot snapshot = store.read()) {
            Optional<Entry.Key> after = Optional.empty();
            while (true) {
                List<Entry> next = snapshot.entries().page(filter, after, page);
                out.addAll(next);
                if (next.size() < page) {
                    return out;
                }
                after = Entry.Key.of(next.get(page - 1).key().toString());
            }
        }
    }

    private static EntryFilter filter(int from, int now, Set<Kind> kinds, Set<Outcome> outcomes, boolean logs) {
        return new EntryFilter(at(from), at(now), kinds, outcomes, logs, Optional.empty(), Optional.empty(), List.of());
    }

    private Set<String> expected(EntryFilter f, int from, int now, Predicate<Line> more) {
        return lines.stream()
                .filter(l -> l.started >= from && l.started <= now)
                .filter(l -> f.kinds().isEmpty()
                        || f.kinds().stream().anyMatch(k -> k.word().equals(l.kind)))
                .filter(l -> f.outcomes().isEmpty()
                        || f.outcomes().stream().anyMatch(o -> o.word().equals(l.outcomeAt(now))))
                .filter(l -> !f.kinds().isEmpty()
                        || f.quietLogs()
                        || !l.kind.equals("log")
                        || l.id.startsWith("r") && bare(l))
                .filter(more)
                .map(Line::id)
                .collect(Collectors.toSet());
    }

    private boolean bare(Line line) {
        try (Snapshot snapshot = store.read()) {
            return snapshot.entries().of(line.id).orElseThrow().backup().isEmpty();
        }
    }

    @Test
    void pagesPutTogetherAreTheWholeInOrderWhateverTheirSizeAndTheFilter() {
        for (int n = 0; n < 60; n++) {
            int from = random.nextInt(1_500);
            int now = from + random.nextInt(1_000);
            Set<Kind> kinds = random.nextBoolean() ? Set.of() : Set.of(Kind.values()[1 + random.nextInt(4)], Kind.FULL);
            Set<Outcome> outcomes = random.nextBoolean() ? Set.of() : Set.of(Outcome.values()[random.nextInt(4)]);
            EntryFilter filter = filter(from, now, kinds, outcomes, random.nextBoolean());
            List<Entry> whole = all(filter, 1 + random.nextInt(40));

            assertEquals(expected(filter, from, now, l -> true), ids(whole), () -> filter.toString());
            assertEquals(whole.size(), ids(whole).size(), "no line twice");
            assertEquals(
                    whole,
                    whole.stream().sorted(Comparator.comparing(Entry::key)).toList());
        }
    }

    private static Set<String> ids(List<Entry> entries) {
        return entries.stream().map(Entry::id).collect(Collectors.toCollection(HashSet::new));
    }

    @Test
    void fewDatabasesOrManyGiveTheSameAsLeavingOutTheOthers() {
        for (Set<String> wanted : List.of(
                Set.of("d3"),
                Set.of("d1", "d2"),
                lines.stream().map(Line::database).filter(d -> !d.equals("d4")).collect(Collectors.toSet()))) {
            EntryFilter filter = new EntryFilter(
                    at(0), at(3_000), Set.of(), Set.of(), true, Optional.of(wanted), Optional.empty(), List.of());
            assertEquals(expected(filter, 0, 3_000, l -> wanted.contains(l.database)), ids(all(filter, 7)));
        }
    }

    @Test
    void wordsAreLookedForAsTheyStand() {
        EntryFilter filter = new EntryFilter(
                at(0),
                at(3_000),
                Set.of(),
                Set.of(Outcome.FAILED),
                true,
                Optional.empty(),
                Optional.empty(),
                List.of(new EntryFilter.Word("0%_O", Set.of())));
        Set<String> found = ids(all(filter, 50));
        assertEquals(expected(filter, 0, 3_000, l -> Integer.parseInt(l.id.substring(1)) % 3 == 0), found);
        assertTrue(found.size() > 5);
    }

    @Test
    void talliesCountWhatThePagesShow() {
        EntryFilter filter = filter(100, 1_200, Set.of(), Set.of(), true);
        try (Snapshot snapshot = store.read()) {
            Entries.Tallies counted = snapshot.entries().tallies(filter);
            assertTrue(counted.complete());
            for (Entries.Tally t : counted.tallies()) {
                long same = lines.stream()
                        .filter(l -> l.started >= 100 && l.started <= 1_200)
                        .filter(l -> l.database.equals(t.database())
                                && l.kind.equals(t.kind().word())
                                && l.outcomeAt(1_200).equals(t.outcome().word()))
                        .count();
                assertEquals(same, t.lines(), t.toString());
            }
            assertEquals(
                    all(filter, 500).size(),
                    counted.tallies().stream().mapToLong(Entries.Tally::lines).sum());
        }
    }

    @Test
    void aRunStandsByItselfUntilItsBackupIsTold() throws IOException {
        String run = """
                {"type":"run","id":"late","database":"e","kind":"full","started":"%s","ended":"%s","outcome":"ok"}""".formatted(at(5_000), at(5_010));
        take(List.of(run));
        EntryFilter filter = filter(4_000, 6_000, Set.of(), Set.of(), true);
        assertTrue(all(filter, 5).get(0).backup().isEmpty());
        take(List.of("""
                {"type":"backup","id":"late-b","database":"e","kind":"full","run":"late","started":"%s","ended":"%s"}""".formatted(at(5_000), at(5_010))));
        List<Entry> now = all(filter, 5);
        assertEquals(1, now.size());
        assertEquals("late-b", now.get(0).backup().orElseThrow().id());
        assertEquals("late", now.get(0).id());
        try (Snapshot snapshot = store.read()) {
            assertEquals(List.of("late", "late-b"), snapshot.entries().idsLike("lat", 9));
            assertEquals(
                    "late-b",
                    snapshot.entries()
                            .of("late")
                            .orElseThrow()
                            .backup()
                            .orElseThrow()
                            .id());
        }
    }

    @Test
    void idsAreFoundByHowTheyBegin() throws IOException {
        take(List.of(
                "{\"type\":\"run\",\"id\":\"tide/1\",\"database\":\"d1\",\"kind\":\"full\",\"started\":\"" + at(1)
                        + "\",\"ended\":\"" + at(2) + "\",\"outcome\":\"failed\"}",
                "{\"type\":\"backup\",\"id\":\"tide/2\",\"database\":\"d2\",\"kind\":\"config\",\"started\":\"" + at(1)
                        + "\",\"ended\":\"" + at(2) + "\"}",
                "{\"type\":\"backup\",\"id\":\"tidf\",\"database\":\"d2\",\"kind\":\"config\",\"started\":\"" + at(1)
                        + "\",\"ended\":\"" + at(2) + "\"}"));
        try (Snapshot snapshot = store.read()) {
            assertEquals(
                    List.of(new Snapshot.Known("tide/2", "config", "d2"), new Snapshot.Known("tide/1", "full", "d1")),
                    snapshot.idsFrom("tide", 5));
            assertEquals(1, snapshot.idsFrom("tidf", 5).size());
            assertEquals(List.of(), snapshot.idsFrom("tidg", 5));
            assertEquals(3, snapshot.idsFrom("b", 3).size());
        }
    }

    @Test
    void turnsAreWhereAnythingBeganOrEnded() {
        TreeSet<Instant> moments = new TreeSet<>();
        for (Line line : lines) {
            moments.add(BEGIN.plusSeconds(60L * line.started));
            moments.add(BEGIN.plusSeconds(60L * line.ended));
        }
        try (Snapshot snapshot = store.read()) {
            for (int n = -1; n < 2_040; n += 7) {
                Instant at = BEGIN.plusSeconds(60L * n);
                assertEquals(
                        Optional.ofNullable(moments.higher(at)),
                        snapshot.entries().turn(at, true).map(Entries.Turn::at));
                assertEquals(
                        Optional.ofNullable(moments.lower(at)),
                        snapshot.entries().turn(at, false).map(Entries.Turn::at));
            }
        }
    }

    @Test
    void theNewestOfEachKindEndedLastByAMoment() {
        try (Snapshot snapshot = store.read()) {
            for (int now : List.of(0, 300, 1_000, 3_000)) {
                for (var b : snapshot.newestOfKinds("d3", at(now))) {
                    Optional<Integer> newest = lines.stream()
                            .filter(l -> l.database.equals("d3")
                                    && l.kind.equals(b.kind().word())
                                    && !l.outcome.equals("failed")
                                    && l.ended <= now)
                            .map(l -> b.kind().isData() ? l.ended : l.started)
                            .max(Comparator.naturalOrder());
                    assertEquals(
                            newest.map(EntriesTest::at), Optional.of(b.kind().isData() ? b.ended() : b.started()));
                }
            }
            assertEquals(List.of(), snapshot.newestOfKinds("d3", at(0)));
            assertTrue(snapshot.newestOfKinds("d3", at(3_000)).size() > 2);
        }
    }
}
