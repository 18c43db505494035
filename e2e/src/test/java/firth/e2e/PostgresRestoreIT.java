package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.e2e.Observed.Piece;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;

/**
 * Promises about a real PostgreSQL, kept: moments that Firth says can be restored are restored by its own script, and what the server then
 * holds is exactly what had been committed by then.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class PostgresRestoreIT {

    private static final int RESTORES = 26 * Integer.getInteger("firth.thorough", 1);
    private static final String TRUTH =
            "select n || '@' || at || '|' || (extract(epoch from pg_xact_commit_timestamp(xmin)) * 1000000)::bigint from truth order by n";

    private static Workplace work;
    private static Path store;
    private static Observed observed;

    /** What each timeline's server held at last, with the microsecond of each commit. */
    private static final Map<String, String> TRUTHS = new HashMap<>();

    private static String beyond = "";

    /** A position of the first timeline, and what had been committed by then. */
    private static String position = "";

    private static String upToIt = "";
    private static int tried;

    @BeforeAll
    static void live() throws Exception {
        // Half an hour beside all others, and of a short name that labels of backups write and that says nothing.
        work = new Workplace("America/St_Johns");
        store = work.directory("it's a store");
        Path archive = work.directory("it's a store/log files");
        work.directory("it's a store/base");
        observed = new Observed(store);
        observed.enrolStore();
        // The engine's own setting cannot say such a name, so it writes beside it.
        Path plain = work.path("archive");
        Files.createSymbolicLink(plain, archive);
        Instant fork;
        try (RealPostgres first = RealPostgres.fresh(work, "first", plain)) {
            assertEquals("America/St_Johns", first.query("show log_timezone"));
            first.query("create table truth(n serial primary key, at timestamptz default clock_timestamp(), pad text)");
            first.backUp(store.resolve("base/one"), "-X", "none");
            rows(first, 40);
            fork = Instant.now();
            rows(first, 20);
            position = first.query("select pg_current_wal_lsn()");
            upToIt = first.query("select n || '@' || at from truth order by n");
            first.backUp(store.resolve("base/two"), "-Ft", "-z", "-X", "stream");
            rows(first, 30);
            first.switchLog();
            Thread.sleep(1_500);
            rows(first, 4);
            first.switchLog();
            TRUTHS.put("1", first.query(TRUTH));
            first.stop();
        }
        observed.look();
        try (RealPostgres second = fork(fork, "second", plain)) {
            rows(second, 40);
            second.backUp(store.resolve("base/three"), "-X", "none");
            rows(second, 20);
            second.switchLog();
            TRUTHS.put("2", second.query(TRUTH));
            second.stop();
        }
        observed.look();
        try (RealPostgres third = fork(fork.minusMillis(400), "third", plain)) {
            rows(third, 30);
            third.switchLog();
            TRUTHS.put("3", third.query(TRUTH));
            rows(third, 1);
            beyond = third.query(
                    "select to_char(max(pg_xact_commit_timestamp(xmin)) at time zone 'UTC', 'YYYY-MM-DD HH24:MI:SS.US') from truth");
            // Stopped at once, it does not archive what it has written last.
        }
        observed.look();
    }

    /** A server at an earlier moment, by Firth's own script, which goes on as a timeline of its own and archives like the one before. */
    private static RealPostgres fork(Instant at, String name, Path archive) throws Exception {
        Path data = restored(observed.script(at), name);
        RealPostgres server = RealPostgres.over(work, data);
        server.set("track_commit_timestamp = on");
        server.archivesTo(archive);
        server.start();
        return server;
    }

    private static void rows(RealPostgres server, int count) {
        StringBuilder sql = new StringBuilder();
        for (int i = 0; i < count; i++) {
            sql.append(
                    "insert into truth(pad) select string_agg(md5(random()::text), '') from generate_series(1, 900);\n");
            sql.append("select pg_sleep(0.02);\n");
        }
        server.script("rows", sql.toString());
    }

    @AfterAll
    static void tidy() {
        System.out.println(tried + " restores of PostgreSQL tried and equal");
        observed.close();
        work.close();
    }

    /** Runs a script, which makes the files ready. */
    private static Path restored(String script, String name) throws IOException {
        Path file = work.path(name + ".sh");
        Files.writeString(file, script);
        Path data = work.path(name);
        work.run(Map.of("STORE_1", store.toString()), "sh", file.toString(), data.toString());
        return data;
    }

    private static List<String> truth(String lineage, Instant until) {
        long micros = Duration.between(Instant.EPOCH, until).toNanos() / 1_000;
        return TRUTHS.get(lineage)
                .lines()
                .filter(l -> Long.parseLong(l.substring(l.indexOf('|') + 1)) <= micros)
                .map(l -> l.substring(0, l.indexOf('|')))
                .toList();
    }

    private static List<String> held(RealPostgres server) {
        return server.query("select n || '@' || at from truth order by n")
                .lines()
                .toList();
    }

    @Test
    @Order(1)
    void everyPromisedMomentIsRestoredExactly() throws Exception {
        List<Piece> pieces = observed.promised();
        assertEquals(
                new TreeSet<>(List.of("1", "2", "3")),
                new TreeSet<>(pieces.stream().map(Piece::lineage).toList()),
                pieces.toString());
        long seed = new Random().nextLong();
        Random random = new Random(seed);
        for (int k = 0; k < RESTORES; k++) {
            Piece piece = pieces.get(k % pieces.size());
            long span = Duration.between(piece.from(), piece.to()).toMillis();
            Instant moment = k < 2 * pieces.size()
                    ? k < pieces.size() ? piece.to() : piece.from()
                    : piece.from().plusMillis((long) (random.nextDouble() * (span + 1)));
            String name = "restored" + k;
            try (RealPostgres server = RealPostgres.over(work, restored(observed.script(moment), name))) {
                server.set("track_commit_timestamp = on");
                server.start();
                assertEquals(
                        truth(piece.lineage(), moment),
                        held(server),
                        "seed " + seed + ": " + moment + " of lineage " + piece.lineage());
                tried++;
            }
            work.run("rm", "-rf", work.path(name).toString());
        }
    }

    @Test
    @Order(2)
    void theLatestIsTheLastThatWasArchived() throws Exception {
        try (RealPostgres server = RealPostgres.over(work, restored(observed.latest(), "latest"))) {
            server.set("track_commit_timestamp = on");
            server.start();
            assertEquals(truth("3", Instant.parse("2100-01-01T00:00:00Z")), held(server));
            tried++;
        }
    }

    @Test
    @Order(2)
    void aPositionIsStoppedAtExactly() throws Exception {
        String script = observed.scriptTo(position, "1");
        assertTrue(script.contains("recovery_target_lsn = '" + position + "'"), script);
        try (RealPostgres server = RealPostgres.over(work, restored(script, "position"))) {
            server.start();
            assertEquals(upToIt.lines().toList(), held(server));
            tried++;
        }
    }

    @Test
    @Order(3)
    void oneCommitBeyondThePromiseIsRefused() throws Exception {
        String asked = "recovery_target_time = '" + beyond + "+00'";
        String script = observed.latest()
                .replace("recovery_target_action = 'promote'", "recovery_target_action = 'promote'\n" + asked);
        assertTrue(script.contains(asked), script);
        RealPostgres server = RealPostgres.over(work, restored(script, "beyond"));
        server.set("track_commit_timestamp = on");
        assertThrows(IllegalStateException.class, server::start);
        assertTrue(server.log().contains("recovery ended before configured recovery target was reached"), server.log());
    }

    @Test
    @Order(4)
    void aHoleThatFirthNamesIsOneToTheEngine() throws Exception {
        Piece last = lastOf("1");
        JsonNode before = observed.evaluation();
        assertTrue(before.path("gaps").isEmpty(), before.path("gaps").toString());
        String whole = observed.script(last.to().minusMillis(1));
        List<String> fetched = whole.lines()
                .filter(l -> l.startsWith("fetch ") && l.contains("/000000"))
                .toList();
        String missing = fetched.get(fetched.size() - 2);
        String segment = missing.substring(missing.lastIndexOf('/') + 1, missing.length() - 1);
        Files.delete(store.resolve("log files").resolve(segment));
        observed.look();
        JsonNode gap = observed.evaluation().path("gaps").path(0);
        assertEquals(
                "purged",
                gap.path("cause").asText(),
                observed.evaluation().path("gaps").toString());
        assertTrue(observed.plan(last.to().minusMillis(1)).path("ways").isEmpty(), "no way there any more");
        assertFalse(observed.plan(last.to().minusMillis(1)).path("gap").isNull());
        RealPostgres server = RealPostgres.over(work, restored(whole.replace(missing + "\n", ""), "hole"));
        server.set("track_commit_timestamp = on");
        assertThrows(IllegalStateException.class, server::start);
        assertTrue(server.log().contains("recovery ended before configured recovery target was reached"), server.log());
    }

    @Test
    @Order(5)
    void theFirstServerStartedAgainBesideTheOthersIsNoticed() throws Exception {
        assertEquals("[]", namesOfFindings("lineage-goes-on").toString());
        try (RealPostgres first = RealPostgres.over(work, work.path("first"))) {
            first.start();
            rows(first, 20);
            first.switchLog();
            first.stop();
        }
        observed.look();
        assertEquals("[\"harbour\"]", namesOfFindings("lineage-goes-on").toString());
    }

    @Test
    @Order(6)
    void aSegmentThatWasCutOffEndsThePromiseWhereTheEngineEndsToo() throws Exception {
        Piece before = lastOf("3");
        String script = observed.script(before.to());
        Path cut = archived("00000003");
        byte[] whole = Files.readAllBytes(cut);
        Files.write(cut, Arrays.copyOf(whole, whole.length / 8 * 3));
        assertTrue(observed.look().contains(cut.getFileName().toString()), "it is named");
        Piece after = lastOf("3");
        assertTrue(after.to().isBefore(before.to()), before + " and now " + after);
        assertTrue(observed.plan(before.to()).path("ways").isEmpty(), "no way there any more");
        RealPostgres refusing = RealPostgres.over(work, restored(script, "cut"));
        assertThrows(IllegalStateException.class, refusing::start);
        try (RealPostgres server = RealPostgres.over(work, restored(observed.script(after.to()), "short"))) {
            server.set("track_commit_timestamp = on");
            server.start();
            assertEquals(truth("3", after.to()), held(server));
            tried++;
        }
    }

    private static Piece lastOf(String lineage) throws Exception {
        return observed.promised().stream()
                .filter(p -> p.lineage().equals(lineage))
                .reduce((a, b) -> b)
                .orElseThrow();
    }

    /** The newest segment of a timeline. */
    private static Path archived(String timeline) throws IOException {
        try (Stream<Path> all = Files.list(store.resolve("log files"))) {
            return all.filter(p -> p.getFileName().toString().matches(timeline + "[0-9A-F]{16}"))
                    .max(Path::compareTo)
                    .orElseThrow();
        }
    }

    private static List<String> namesOfFindings(String code) throws Exception {
        List<String> out = new ArrayList<>();
        for (JsonNode finding : observed.ask("/api/watch").path("findings")) {
            if (finding.path("code").asText().equals(code)) {
                finding.path("databases").forEach(d -> out.add(d.path("id").toString()));
            }
        }
        return out;
    }
}
