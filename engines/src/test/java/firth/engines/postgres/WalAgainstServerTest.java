package firth.engines.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.engines.Keys;
import firth.engines.Packed;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The log of a real server, read by us and by the engine's own program: record for record the same. */
class WalAgainstServerTest {

    private static final Pattern LINE = Pattern.compile(
            "rmgr: (\\S+)\\s+len \\(rec/tot\\):\\s*\\d+/\\s*(\\d+), tx:\\s*(\\d+), lsn: ([0-9A-F/]+), prev ([0-9A-F/]+), desc: (.*)");
    private static final Pattern ENDED = Pattern.compile(
            "(COMMIT|ABORT)(?:_PREPARED)?\\b.*?(\\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d:\\d\\d\\.\\d+) UTC.*");

    private static Workplace work;
    private static Path archive;

    @BeforeAll
    static void write() {
        work = new Workplace();
        archive = work.directory("archive");
        try (RealPostgres server = RealPostgres.fresh(work, "data", archive)) {
            server.script("load", load());
            server.switchLog();
            server.script(
                    "more", "insert into t(pad) select repeat('x', 5000) from generate_series(1, 50);\ncheckpoint;\n");
            server.switchLog();
            server.stop();
        }
    }

    @AfterAll
    static void tidy() {
        work.close();
    }

    /** Small and large records, whole pages, subtransactions, rolled back and prepared transactions, an empty segment. */
    private static String load() {
        StringBuilder sql = new StringBuilder("create table t(n serial primary key, pad text);\n");
        for (int i = 0; i < 60; i++) {
            sql.append("insert into t(pad) select string_agg(md5(random()::text), '') from generate_series(1, ")
                    .append(1 + i * 7)
                    .append(");\n");
            if (i % 5 == 0) {
                sql.append(
                        "begin; insert into t(pad) values ('gone'); savepoint s; insert into t(pad) values ('gone'); rollback to s;"
                                + " rollback;\n");
                sql.append(
                        "begin; insert into t(pad) values ('sub'); savepoint s; insert into t(pad) values ('sub'); release s; commit;\n");
            }
            if (i % 20 == 7) {
                sql.append("begin; insert into t(pad) values ('two'); prepare transaction 'p")
                        .append(i)
                        .append("';\n");
                sql.append(i % 40 == 7 ? "commit" : "rollback")
                        .append(" prepared 'p")
                        .append(i)
                        .append("';\n");
                sql.append("checkpoint;\n");
            }
            if (i % 15 == 3) {
                sql.append("update t set pad = pad || 'y';\nselect pg_switch_wal();\n");
            }
        }
        return sql.append("create table wide as select repeat(md5(g::text), 200) from generate_series(1, 1500) g;\n")
                .toString();
    }

    /** What one record is to both. */
    private record Told(String previous, int length, String transaction) {}

    private static List<Path> segments() throws IOException {
        try (Stream<Path> all = Files.list(archive)) {
            return all.filter(p -> SegmentName.parse(p.getFileName().toString()).isPresent())
                    .sorted()
                    .toList();
        }
    }

    private static SegmentName name(Path file) {
        return SegmentName.parse(Packed.nameWithin(file.getFileName().toString()))
                .orElseThrow();
    }

    private static SegmentFacts read(SegmentFacts.Reader reader, Path file) throws IOException {
        try (InputStream in = Packed.open(file, Keys.NONE)) {
            return reader.read(in, name(file));
        }
    }

    @Test
    void everyRecordIsReadAsTheEngineReadsIt() throws IOException {
        TreeMap<String, Told> ours = new TreeMap<>();
        SegmentFacts.Reader reader = new SegmentFacts.Reader((r, bytes, at) -> ours.put(
                Lsn.of(r.lsn()),
                new Told(Lsn.of(r.previous()), r.length(), Integer.toUnsignedString(r.transaction()))));
        List<SegmentFacts> facts = new ArrayList<>();
        for (Path s : segments()) {
            facts.add(read(reader, s));
        }
        TreeMap<String, Told> theirs = new TreeMap<>();
        List<Instant> commits = new ArrayList<>();
        int aborts = 0;
        String said = work.run(
                RealPostgres.program("pg_waldump"),
                "-p",
                archive.toString(),
                segments().get(0).getFileName().toString(),
                segments().get(segments().size() - 1).getFileName().toString());
        for (String line : said.lines().toList()) {
            Matcher m = LINE.matcher(line);
            if (!m.matches()) {
                continue;
            }
            theirs.put(
                    Lsn.of(Lsn.parse(m.group(4))),
                    new Told(Lsn.of(Lsn.parse(m.group(5))), Integer.parseInt(m.group(2)), m.group(3)));
            Matcher end = ENDED.matcher(m.group(6));
            if (m.group(1).equals("Transaction") && end.matches()) {
                if (end.group(1).equals("COMMIT")) {
                    commits.add(Instant.parse(end.group(2).replace(' ', 'T') + "Z"));
                } else {
                    aborts++;
                }
            }
        }
        assertTrue(theirs.size() > 2_000, theirs.size() + " records");
        assertEquals(theirs, ours);
        assertEquals(
                commits.size(), facts.stream().mapToLong(SegmentFacts::commits).sum());
        assertEquals(aborts, facts.stream().mapToLong(SegmentFacts::aborts).sum());
        assertTrue(aborts >= 12, aborts + " rolled back");
        assertEquals(
                commits.stream().max(Instant::compareTo),
                facts.stream().flatMap(f -> f.lastCommit().stream()).max(Instant::compareTo));
        assertTrue(facts.stream().allMatch(SegmentFacts::whole), facts.toString());
        assertTrue(facts.stream().anyMatch(f -> f.checkpoint().isPresent()));
        System.out.println(segments().size() + " segments, " + theirs.size() + " records compared");
    }

    @Test
    void packedSegmentsTellTheSame() throws IOException {
        Path packed = work.directory("packed");
        for (Path s : segments()) {
            String plain = s.toString();
            String to = packed.resolve(s.getFileName().toString()).toString();
            work.run("sh", "-c", "gzip -c '" + plain + "' > '" + to + ".gz'");
            work.run("sh", "-c", "zstd -qc '" + plain + "' > '" + to + ".zst'");
            work.run("sh", "-c", "lz4 -qc '" + plain + "' > '" + to + ".lz4'");
        }
        for (String ending : List.of(".gz", ".zst", ".lz4")) {
            SegmentFacts.Reader plain = new SegmentFacts.Reader();
            SegmentFacts.Reader other = new SegmentFacts.Reader();
            for (Path s : segments()) {
                assertEquals(read(plain, s), read(other, packed.resolve(s.getFileName() + ending)), s + ending);
            }
        }
    }

    @Test
    void aTornSegmentHoldsLogUpToWhereItIsTornAndNoFurther() throws IOException {
        Path whole = segments().get(1);
        byte[] bytes = Files.readAllBytes(whole);
        for (int cut : new int[] {8192 * 3, 8192 * 7 + 100, bytes.length - 1}) {
            Path torn = work.path("torn");
            Files.write(torn, Arrays.copyOf(bytes, cut));
            SegmentFacts f = read(torn, whole);
            assertFalse(f.isTaken(), "the engine takes no file of another size");
            assertTrue(f.end() <= f.start() + cut || f.whole(), "up to " + Lsn.of(f.end()));
        }
        byte[] flipped = bytes.clone();
        flipped[8192 * 5 + 1000] ^= 1;
        Path changed = work.path("torn");
        Files.write(changed, flipped);
        SegmentFacts f = read(changed, whole);
        assertFalse(f.whole());
        assertTrue(f.end() <= f.start() + 8192 * 5 + 1000, "the changed byte is not taken for log");
        byte[] zeroed = bytes.clone();
        Arrays.fill(zeroed, 8192 * 4, zeroed.length, (byte) 0);
        Files.write(changed, zeroed);
        f = read(changed, whole);
        assertFalse(f.whole());
        assertTrue(f.end() <= f.start() + 8192 * 4);
        assertEquals("", f.broken(), "a log that just ends there, as one being received does");
    }

    private static SegmentFacts read(Path file, Path as) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            return new SegmentFacts.Reader().read(in, name(as));
        }
    }

    @Test
    void whatIsKeptOnALineIsWhatWasRead() throws IOException {
        SegmentFacts.Reader reader = new SegmentFacts.Reader();
        for (Path s : segments()) {
            SegmentFacts f = read(reader, s);
            assertEquals(f, SegmentText.parse(SegmentText.of(f)));
        }
    }
}
