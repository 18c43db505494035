package firth.engines.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.Observer;
import firth.servers.RealMariadb;
import firth.servers.Workplace;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The binary logs and backups of a real server, read by us and by the engine's own programs. */
class BinaryLogAgainstServerTest {

    private static final Pattern EVENT = Pattern.compile(
            "#(\\d{6})\\s+(\\d+:\\d\\d:\\d\\d) server id (\\d+)\\s+end_log_pos (\\d+)\\s+(?:CRC32 0x[0-9a-f]+\\s+)?(.*)");
    private static final DateTimeFormatter MOMENT = DateTimeFormatter.ofPattern("uuMMdd H:mm:ss", Locale.ROOT);

    private static Workplace work;
    private static Path store;

    @BeforeAll
    static void write() {
        work = new Workplace();
        store = work.directory("store");
        work.directory("store/logs");
        String[] options = {"--log-bin=binlog", "--server-id=7", "--binlog-checksum=CRC32"};
        try (RealMariadb server = RealMariadb.fresh(work, "data", options)) {
            server.script("make", """
                    create database k; create table k.t(n int primary key auto_increment, pad text) engine=InnoDB;
                    create table k.m(n int) engine=MyISAM;
                    """);
            server.backUp(store.resolve("full"));
            server.script("load", load());
            server.backUp(store.resolve("incr"), store.resolve("full"));
            server.script("more", """
                    insert into k.t(pad) values ('after');
                    flush binary logs;
                    insert into k.t(pad) values ('head');
                    """);
            work.run(
                    "sh",
                    "-c",
                    "mariadb-dump --no-defaults --socket=" + server.socketPath()
                            + " -u root --single-transaction --master-data=2 k > " + store.resolve("k.sql"));
            work.run("sh", "-c", "cp " + server.data() + "/binlog.* " + store.resolve("logs"));
            server.stop();
            work.run("sh", "-c", "cp " + server.data() + "/binlog.* " + store.resolve("logs"));
        }
    }

    @AfterAll
    static void tidy() {
        work.close();
    }

    private static String load() {
        StringBuilder sql = new StringBuilder();
        for (int i = 0; i < 40; i++) {
            sql.append("insert into k.t(pad) select repeat('x', ")
                    .append(i * 50)
                    .append(");\n");
            if (i % 8 == 0) {
                sql.append("begin; insert into k.t(pad) values ('a'); insert into k.t(pad) values ('b'); commit;\n");
                sql.append("begin; insert into k.t(pad) values ('gone'); rollback;\n");
                sql.append("insert into k.m values (1);\n");
                sql.append("create table k.x").append(i).append("(n int);\n");
            }
            if (i % 16 == 9) {
                sql.append(
                        "begin; insert into k.m values (2); insert into k.t(pad) values ('c'); rollback;\nflush binary logs;\n");
            }
        }
        return sql.toString();
    }

    private static List<Path> logs() throws IOException {
        try (Stream<Path> all = Files.list(store.resolve("logs"))) {
            return all.filter(p -> Coordinate.ofFile(p.getFileName().toString()).isPresent())
                    .sorted()
                    .toList();
        }
    }

    private record Ended(long at, Instant made) {}

    private static LogFacts read(Path log, List<Ended> into) throws IOException {
        try (InputStream in = new BufferedInputStream(Files.newInputStream(log))) {
            return BinaryLog.read(in, (end, made) -> into.add(new Ended(end, made)));
        }
    }

    @Test
    void everyTransactionEndsWhereTheEngineSaysItDoes() throws IOException {
        int all = 0;
        for (Path log : logs()) {
            List<Ended> ours = new ArrayList<>();
            LogFacts facts = read(log, ours);
            String said = work.run("mariadb-binlog", "--no-defaults", "--base64-output=decode-rows", log.toString());
            List<Ended> theirs = theirs(said);
            assertEquals(theirs, ours, log.toString());
            assertEquals(Files.size(log), facts.end(), "whole");
            assertTrue(facts.sealed() && facts.checked() && facts.broken().isEmpty(), facts.toString());
            assertEquals(7, facts.server());
            all += ours.size();
        }
        assertTrue(all > 60, all + " transactions");
        System.out.println(logs().size() + " binary logs, " + all + " transactions compared");
    }

    /** By the engine's own listing: a numbered group ends with its commit, or its one statement. */
    private static List<Ended> theirs(String said) {
        List<Ended> out = new ArrayList<>();
        boolean within = false;
        boolean alone = false;
        Ended query = null;
        for (String line : said.lines().toList()) {
            Matcher m = EVENT.matcher(line);
            if (m.matches()) {
                Ended at = new Ended(
                        Long.parseLong(m.group(4)),
                        LocalDateTime.parse(m.group(1) + " " + m.group(2), MOMENT)
                                .toInstant(ZoneOffset.UTC));
                String what = m.group(5);
                query = null;
                if (what.startsWith("GTID")) {
                    within = true;
                    alone = what.contains("ddl") || !what.contains("trans") && what.contains("standalone");
                } else if (what.startsWith("Xid") || what.startsWith("Query") && within && alone) {
                    out.add(at);
                    within = false;
                } else if (what.startsWith("Query")) {
                    query = at;
                }
            } else if (query != null && within && (line.equals("COMMIT") || line.equals("ROLLBACK"))) {
                out.add(query);
                within = false;
            }
        }
        return out;
    }

    @Test
    void aLogThatWasCutOffCountsUpToItsLastWholeTransaction() throws IOException {
        Path whole = logs().get(0);
        byte[] bytes = Files.readAllBytes(whole);
        List<Ended> ends = new ArrayList<>();
        read(whole, ends);
        for (int k : new int[] {3, 7, ends.size() - 1}) {
            Path cut = work.path("cut");
            Files.write(cut, Arrays.copyOf(bytes, (int) ends.get(k).at() - 5));
            List<Ended> left = new ArrayList<>();
            LogFacts f = read(cut, left);
            assertEquals(ends.subList(0, k), left);
            assertEquals(ends.get(k - 1).at(), f.end());
            assertFalse(f.sealed());
        }
        byte[] changed = bytes.clone();
        changed[(int) ends.get(5).at() + 30] ^= 1;
        Files.write(work.path("cut"), changed);
        LogFacts f = read(work.path("cut"), new ArrayList<>());
        assertTrue(f.broken().contains("checksum"), f.broken());
        assertTrue(f.end() <= ends.get(5).at() + 100);
    }

    @Test
    void backupsAreDirectoriesWithTheirPlaceInTheLogs() throws IOException {
        Observation seen = new Observer(List.of(new MariadbFiles()))
                .observe(List.of(new Root("n1", store.toRealPath())), Known.nothing(), false, p -> {});
        assertEquals(List.of(), seen.unread());
        assertEquals(1, seen.databases().size());
        List<ObservedBackup> all = seen.databases().get(0).backups();
        ObservedBackup full =
                all.stream().filter(b -> b.path().equals("full")).findFirst().orElseThrow();
        ObservedBackup incr =
                all.stream().filter(b -> b.path().equals("incr")).findFirst().orElseThrow();
        ObservedBackup dump =
                all.stream().filter(b -> b.path().equals("k.sql")).findFirst().orElseThrow();
        assertEquals(Kind.FULL, full.kind());
        assertEquals(Kind.INCR, incr.kind());
        assertEquals(full.name(), incr.parent().orElseThrow());
        assertTrue(full.members().size() > 20, "its files are members, not strays");
        assertTrue(dump.wrong().isEmpty());
        for (ObservedBackup b : List.of(full, incr, dump)) {
            assertTrue(
                    all.stream()
                            .filter(l -> l.kind() == Kind.LOG)
                            .anyMatch(l -> l.positions().orElseThrow().from()
                                            <= b.positions().orElseThrow().to()
                                    && b.positions().orElseThrow().to()
                                            < l.positions().orElseThrow().to()),
                    b.written().toString());
        }
        List<ObservedBackup> logs =
                all.stream().filter(b -> b.kind() == Kind.LOG).toList();
        for (int i = 1; i < logs.size(); i++) {
            assertEquals(
                    logs.get(i - 1).positions().orElseThrow().to(),
                    logs.get(i).positions().orElseThrow().from(),
                    "no hole between them");
        }
        assertTrue(logs.stream().allMatch(l -> l.evidence() == Evidence.CHECKED));
        assertTrue(
                logs.get(0).written().orElseThrow().transactions().orElseThrow().startsWith("0-7-"));
    }
}
