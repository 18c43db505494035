package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.e2e.Observed.Piece;
import firth.servers.RealMariadb;
import firth.servers.Workplace;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;

/** Promises about a real MariaDB, kept: by Firth's own script, to the second, for the engine writes no finer moments. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class MariadbRestoreIT {

    private static final int RESTORES = 8 * Integer.getInteger("firth.thorough", 1);

    private static Workplace work;
    private static Path store;
    private static Observed observed;
    private static List<String> truth;
    private static int tried;

    /** A position in the midst of a log, and how much had been committed by then. */
    private static String position = "";

    private static final int UP_TO_IT = 55;

    @BeforeAll
    static void live() throws Exception {
        work = new Workplace("Asia/Kathmandu");
        store = work.directory("it's a store");
        Path logs = work.directory("it's a store/log files");
        observed = new Observed(store);
        observed.enrolStore();
        try (RealMariadb server = RealMariadb.fresh(work, "data", "--log-bin=binlog", "--server-id=3")) {
            assertEquals("05:45:00", server.query("select timediff(now(), utc_timestamp())"));
            server.query(
                    "create database k; create table k.truth(n int primary key auto_increment, at timestamp(6), pad text)");
            rows(server, 10);
            server.backUp(store.resolve("full one"));
            rows(server, 30);
            server.query("flush binary logs");
            server.backUp(store.resolve("step one"), store.resolve("full one"));
            rows(server, UP_TO_IT - 40);
            position =
                    server.query("show master status").replaceFirst("\\s+", ":").replaceFirst("\\s[\\s\\S]*", "");
            rows(server, 70 - UP_TO_IT);
            work.run(
                    "sh",
                    "-c",
                    "mariadb-dump --no-defaults --socket=" + server.socketPath()
                            + " -u root --single-transaction --master-data=2 --databases k | gzip >\"" + store
                            + "/dump of k.sql.gz\"");
            server.query("flush binary logs");
            Thread.sleep(2_500);
            rows(server, 20);
            server.query("flush binary logs");
            truth = server.query("select concat(n, '|', unix_timestamp(at)) from k.truth order by n")
                    .lines()
                    .toList();
            work.run("sh", "-c", "cp -p " + server.data() + "/binlog.* \"" + logs + "\"");
            server.stop();
        }
        observed.look();
    }

    private static void rows(RealMariadb server, int count) {
        StringBuilder sql = new StringBuilder();
        for (int i = 0; i < count; i++) {
            sql.append("insert into k.truth(at, pad) values (now(6), repeat('x', 500)); do sleep(0.1);\n");
        }
        server.script("rows", sql.toString());
    }

    @AfterAll
    static void tidy() {
        System.out.println(tried + " restores of MariaDB tried and equal");
        observed.close();
        work.close();
    }

    private static Path restored(String script, String name) throws IOException {
        Path file = work.path(name + ".sh");
        Files.writeString(file, script);
        Path data = work.path(name);
        work.run(Map.of("STORE_1", store.toString()), "sh", file.toString(), data.toString());
        return data;
    }

    /** A server on the files a script made ready; an empty one where it reads a dump. */
    private static RealMariadb up(String script, String name) throws IOException {
        Path data = restored(script, name);
        if (script.contains("/dump.sql")) {
            return RealMariadb.fresh(work, name);
        }
        RealMariadb server = RealMariadb.over(work, data);
        server.start();
        return server;
    }

    /** What the server holds after the script's second part. */
    private static List<String> replayed(RealMariadb server, String name) {
        work.run(
                Map.of("STORE_1", store.toString()),
                "sh",
                work.path(name + ".sh").toString(),
                work.path(name).toString(),
                "replay",
                "--no-defaults",
                "--socket=" + server.socketPath(),
                "-u",
                "root");
        return server.query("select n from k.truth order by n").lines().toList();
    }

    private static List<String> before(Instant moment) {
        return truth.stream()
                .filter(l -> Double.parseDouble(l.substring(l.indexOf('|') + 1)) < moment.getEpochSecond())
                .map(l -> l.substring(0, l.indexOf('|')))
                .toList();
    }

    @Test
    @Order(1)
    void everyPromisedSecondIsRestoredExactly() throws Exception {
        List<Piece> pieces = observed.promised();
        assertEquals(1, pieces.size(), "from the full on, without a hole: " + pieces);
        String dump = "&copy=" + URLEncoder.encode("n1|harbour/dump-dump-of-k.sql.gz", StandardCharsets.UTF_8);
        List<Instant> moments = new ArrayList<>();
        Instant first = pieces.get(0).from().truncatedTo(ChronoUnit.SECONDS);
        first = first.isBefore(pieces.get(0).from()) ? first.plusSeconds(1) : first;
        long seconds = Duration.between(first, pieces.get(0).to()).toSeconds();
        assertTrue(seconds >= 8, pieces.toString());
        long seed = new Random().nextLong();
        Random random = new Random(seed);
        moments.add(first);
        moments.add(first.plusSeconds(seconds));
        while (moments.size() < RESTORES) {
            moments.add(first.plusSeconds((long) (random.nextDouble() * seconds)));
        }
        for (Instant moment : moments) {
            String name = "restored" + tried;
            // By turns from what is quickest, a dump, and from the directories.
            try (RealMariadb server = up(observed.script(moment, tried % 2 == 0 ? dump : ""), name)) {
                assertEquals(before(moment), replayed(server, name), "seed " + seed + ": " + moment);
                tried++;
            }
            work.run("rm", "-rf", work.path(name).toString());
        }
    }

    @Test
    @Order(2)
    void theLatestHoldsEverything() throws Exception {
        try (RealMariadb server = up(observed.latest(), "latest")) {
            assertEquals(truth.size(), replayed(server, "latest").size());
            tried++;
        }
    }

    @Test
    @Order(2)
    void aPositionIsStoppedAtExactly() throws Exception {
        String script = observed.scriptTo(position, observed.promised().get(0).lineage());
        assertTrue(script.contains(" --stop-position=" + position.replaceFirst(".*:", "") + " "), script);
        try (RealMariadb server = up(script, "position")) {
            assertEquals(UP_TO_IT, replayed(server, "position").size());
            tried++;
        }
    }

    @Test
    @Order(3)
    void withTheDirectoriesLostItsDumpAndTheLogsAfterItDo() throws Exception {
        Instant moment = observed.promised().get(0).to().truncatedTo(ChronoUnit.SECONDS);
        String lost = "";
        for (JsonNode way : observed.plan(moment).path("ways")) {
            String tip = way.path("tip").asText();
            lost += tip.contains("/physical-") ? "&copy=" + URLEncoder.encode("n1|" + tip, StandardCharsets.UTF_8) : "";
        }
        String script = observed.script(moment, lost);
        assertTrue(script.contains("'dump of k.sql.gz'"), script);
        try (RealMariadb server = up(script, "dumped")) {
            assertEquals(before(moment), replayed(server, "dumped"));
            tried++;
        }
    }

    @Test
    @Order(4)
    void aLogPurgedEarlyIsAHoleNoWayLeadsAcross() throws Exception {
        Piece before = observed.promised().get(0);
        List<Path> logs;
        try (Stream<Path> all = Files.list(store.resolve("log files"))) {
            logs = all.filter(p -> p.getFileName().toString().matches("binlog\\.\\d{6}"))
                    .sorted()
                    .toList();
        }
        // The last holds nothing but its end; the one before it what was written after the pause.
        Path early = logs.get(logs.size() - 3);
        Files.delete(early);
        observed.look();
        JsonNode gap = observed.evaluation().path("gaps").path(0);
        assertEquals("purged", gap.path("cause").asText(), observed.evaluation().toString());
        Instant reached = observed.promised().stream()
                .map(Piece::to)
                .max(Instant::compareTo)
                .orElseThrow();
        assertTrue(reached.isBefore(before.to()), "nothing is promised beyond it: " + reached);
        assertTrue(observed.plan(before.to()).path("ways").isEmpty(), "no way leads there");
        assertFalse(observed.plan(before.to()).path("gap").isNull(), "and it is said why");
    }
}
