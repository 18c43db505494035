package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.servers.RealMariadb;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;

/**
 * Firth's schedule starts backups of a real PostgreSQL, a real MariaDB and a SQLite file: what then lies in the stores restores what was promised, an
 * idle database keeps its age, and a runner that is killed leaves nothing running, nothing half written and nothing untold.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class RunnerIT {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String TRUTH =
            "select n || '|' || (extract(epoch from pg_xact_commit_timestamp(xmin)) * 1000000)::bigint from truth order by n";
    private static final String COMMITTED =
            "select to_char(max(pg_xact_commit_timestamp(xmin)) at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS.US\"Z\"') from truth";

    /** Not as an engine has them that is told nothing. */
    private static final String PAGES = "--innodb-page-size=8k";

    private static Workplace work;
    private static Path near;
    private static Path far;
    private static Path config;
    private static Path key;
    private static Observed observed;
    private static RealPostgres server;
    private static RealMariadb berths;
    private static Process runner;

    @BeforeAll
    static void live() throws Exception {
        work = new Workplace("America/St_Johns");
        near = work.directory("near");
        far = work.directory("far");
        key = work.path("quay.key");
        work.run("age-keygen", "-o", key.toString());
        Path state = work.directory("state");
        work.directory("near/harbour");
        Path archive = work.directory("near/harbour/log");
        Files.createDirectories(work.path("sheds"));
        Path sheds = work.path("sheds/sheds.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + sheds);
                Statement s = c.createStatement()) {
            s.execute("PRAGMA journal_mode = wal");
            s.execute("CREATE TABLE shed (n INTEGER PRIMARY KEY, holds TEXT)");
            s.execute("INSERT INTO shed (holds) VALUES ('oars'), ('nets')");
        }
        work.handOver(work.path("sheds"));
        server = RealPostgres.fresh(work, "data", archive);
        server.query("create role firth_backup login replication");
        server.query("grant pg_monitor to firth_backup");
        server.query("grant execute on function pg_switch_wal() to firth_backup");
        server.query("create table truth(n serial primary key, pad text)");
        server.query("create tablespace loft location '" + work.directory("loft") + "'");
        server.query("create table stowed tablespace loft as select generate_series(1, 100) as n");
        berths = RealMariadb.fresh(work, "berths", "--log-bin=binlog", "--server-id=7", PAGES);
        berths.query("create database quay");
        berths.query("create table quay.truth(n int auto_increment primary key)");
        berths.query("create user firth_backup@localhost identified by 'between us'");
        berths.query(
                "grant reload, process, lock tables, binlog monitor, replication slave, select, show view, trigger, event"
                        + " on *.* to firth_backup@localhost");
        Path options = work.path("berths.cnf");
        Files.writeString(
                options, "[client]\nsocket=" + berths.socketPath() + "\nuser=firth_backup\npassword=between us\n");
        work.handOver(options);
        observed = new Observed(near);
        Instant begun = Instant.now().truncatedTo(ChronoUnit.SECONDS);
        String since = begun.toString();
        // One slot, and soon: the runner is there before it opens.
        int minute = begun.plusSeconds(75).atZone(ZoneOffset.UTC).getMinute();
        observed.take(String.join(
                "\n",
                "{\"type\":\"site\",\"id\":\"north\",\"name\":\"Northquay\"}",
                "{\"type\":\"site\",\"id\":\"skerry\",\"name\":\"Skerry\"}",
                "{\"type\":\"store\",\"id\":\"near\",\"name\":\"Quay near\",\"site\":\"north\",\"medium\":\"disk\",\"role\":\"near\"}",
                "{\"type\":\"store\",\"id\":\"far\",\"name\":\"Skerry far\",\"site\":\"skerry\",\"medium\":\"disk\",\"role\":\"far\"}",
                "{\"type\":\"route\",\"id\":\"r\",\"data\":[\"near\"],\"log\":[\"near\"],\"copies\":[\"far\"]}",
                "{\"type\":\"policy\",\"id\":\"p\",\"name\":\"Harbour\",\"effectiveFrom\":\"" + since
                        + "\",\"objective\":{\"mishap\":\"PT5M\",\"siteLoss\":\"PT30M\"},"
                        + "\"demands\":{\"compressed\":true,\"encrypted\":true},"
                        + "\"schedules\":[{\"id\":\"fulls\",\"kind\":\"full\",\"cron\":\"" + minute
                        + " * * * *\",\"within\":\"PT2M\"},"
                        + "{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT10S\"}]}",
                "{\"type\":\"policy\",\"id\":\"q\",\"name\":\"Sheds\",\"effectiveFrom\":\"" + since
                        + "\",\"objective\":{\"mishap\":\"PT1H\"},"
                        + "\"schedules\":[{\"id\":\"fulls\",\"kind\":\"full\",\"cron\":\"" + minute
                        + " * * * *\",\"within\":\"PT2M\"},"
                        + "{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT10S\"}]}",
                database("harbour", "postgresql", "p", since),
                database("berths", "mariadb", "p", since),
                database("sheds", "sqlite", "q", since)));
        Path token = work.path("token");
        Files.writeString(token, observed.token("pier", "runner"));
        config = work.path("runner.toml");
        Files.writeString(
                config,
                String.join(
                        "\n",
                        "host = 'pier'",
                        "firth = '" + observed.firth().address("") + "'",
                        "token-file = '" + token + "'",
                        "state = '" + state + "'",
                        "every = 'PT1S'",
                        "[stores]",
                        "near = '" + near + "'",
                        "far = '" + far + "'",
                        "[keys]",
                        "quay-2026 = '" + key + "'",
                        "[databases.harbour]",
                        "key = 'quay-2026'",
                        "engine = 'postgresql'",
                        "connection = '" + server.connection("firth_backup") + "'",
                        "[databases.berths]",
                        "key = 'quay-2026'",
                        "engine = 'mariadb'",
                        "fulls = 'dump'",
                        "option-file = '" + options + "'",
                        "[databases.sheds]",
                        "engine = 'sqlite'",
                        "log = true",
                        "file = '" + sheds + "'"));
        work.handOver(token);
        work.handOver(config);
        start();
        Path script = state.resolve("archive-log");
        until("the runner laid its script", () -> Files.isExecutable(script));
        server.set("archive_command = '" + script + " \"%p\" \"" + archive + "/%f\" zstd age " + key + "'");
        server.query("select pg_reload_conf()");
    }

    private static String database(String id, String engine, String policy, String since) {
        return "{\"type\":\"database\",\"id\":\"" + id + "\",\"name\":\"" + id + "\",\"engine\":\"" + engine
                + "\",\"site\":\"north\",\"host\":\"pier\",\"zone\":\"UTC\",\"policy\":\"" + policy
                + "\",\"route\":\"r\",\"inServiceFrom\":\"" + since + "\"}";
    }

    private static void start() {
        List<String> command = new ArrayList<>(Programs.java(
                "-Xmx96m", "-XX:TieredStopAtLevel=1", "-jar", Programs.jar("cli", "all"), "runner", "--config"));
        command.add(config.toString());
        runner = work.begin(command.toArray(String[]::new));
    }

    /** At once, and nothing else: what it had started ends by itself, or not. */
    private static void kill() throws InterruptedException {
        runner.children().toList().forEach(ProcessHandle::destroyForcibly);
        runner.waitFor();
    }

    @AfterAll
    static void tidy() throws InterruptedException {
        kill();
        for (Runnable each : List.<Runnable>of(
                () -> berths.close(), () -> server.close(), () -> observed.close(), () -> work.close())) {
            each.run();
        }
    }

    private static void until(String what, Callable<Boolean> holds) throws Exception {
        until(what, 500, holds);
    }

    private static void until(String what, int everyMs, Callable<Boolean> holds) throws Exception {
        Instant deadline = Instant.now().plus(Duration.ofMinutes(3));
        while (!holds.call()) {
            if (Instant.now().isAfter(deadline)) {
                List<String> failed = runs().stream()
                        .filter(r -> r.path("outcome").asText().equals("failed"))
                        .map(r ->
                                r.path("id").asText() + ": " + r.path("message").asText())
                        .toList();
                throw new AssertionError(what + ": not within three minutes; " + said() + failed);
            }
            Thread.sleep(everyMs);
        }
    }

    /** What the runner said. */
    private static String said() {
        return work.said(runner);
    }

    private static void row() {
        server.query("insert into truth(pad) select string_agg(md5(random()::text), '') from generate_series(1, 900)");
    }

    /** The newest moment Firth promises of a database after a disaster; the beginning of time where it promises none. */
    private static Instant promised(String database, String hazard) throws Exception {
        Instant newest = Instant.EPOCH;
        for (JsonNode d : observed.ask("/api/evaluations").path("databases")) {
            for (JsonNode p : d.path("hazards").path(hazard).path("restorable")) {
                Instant to = Instant.parse(p.path("to").asText());
                newest = d.path("id").asText().equals(database) && to.isAfter(newest) ? to : newest;
            }
        }
        return newest;
    }

    /** All that is known of runs. */
    private static List<JsonNode> runs() throws Exception {
        List<JsonNode> out = new ArrayList<>();
        for (String line : observed.export().lines().toList()) {
            JsonNode node = JSON.readTree(line);
            if (node.path("type").asText().equals("run")) {
                out.add(node);
            }
        }
        return out;
    }

    /** Where the stores lie, as a script asks for them. */
    private static Map<String, String> places(List<String> script, Map<String, Path> stores) {
        String head = "# The directory of the store ";
        Map<String, String> out = new TreeMap<>();
        out.put("KEYS", key.toString());
        script.stream()
                .filter(l -> l.startsWith(head))
                .map(l -> l.substring(head.length()))
                .forEach(store ->
                        out.put("STORE_" + out.size(), stores.get(store).toString()));
        return out;
    }

    @Test
    @Order(1)
    void whatTheScheduleStartsRestoresWhatIsPromised() throws Exception {
        until("a full and its logs are promised", () -> {
            row();
            return promised("harbour", "mishap").isAfter(Instant.EPOCH);
        });
        Instant begun = Instant.now();
        until("the promise follows what is committed", () -> {
            row();
            return promised("harbour", "mishap").isAfter(begun);
        });
        Instant to = promised("harbour", "mishap");
        long micros = Duration.between(Instant.EPOCH, to).toNanos() / 1_000;
        List<String> truth = server.query(TRUTH)
                .lines()
                .filter(l -> Long.parseLong(l.substring(l.indexOf('|') + 1)) <= micros)
                .map(l -> l.substring(0, l.indexOf('|')))
                .toList();
        assertFalse(truth.isEmpty());
        Path script = work.path("restore.sh");
        Files.writeString(script, observed.script(to));
        Path data = work.path("restored");
        work.run(
                places(Files.readAllLines(script), Map.of("near", near, "far", far)),
                "sh",
                script.toString(),
                data.toString());
        try (RealPostgres restored = RealPostgres.over(work, data)) {
            restored.set("track_commit_timestamp = on");
            restored.set("archive_mode = off");
            restored.start();
            assertEquals(
                    truth,
                    restored.query("select n from truth order by n").lines().toList());
            assertEquals("100", restored.query("select count(*) from stowed"));
            String loft =
                    restored.query("select pg_tablespace_location(oid) from pg_tablespace where spcname = 'loft'");
            assertTrue(Path.of(loft).startsWith(data), "its tablespace is a place of its own: " + loft);
        }
    }

    @Test
    @Order(2)
    void anIdleDatabaseIsPromisedUntilItWasAskedLast() throws Exception {
        Instant committed = Instant.parse(server.query(COMMITTED));
        Instant later = Instant.now().plusSeconds(5);
        until(
                "the promise goes on where nothing is committed",
                () -> promised("harbour", "mishap").isAfter(later));
        assertEquals(committed, Instant.parse(server.query(COMMITTED)), "nothing was");
        assertFalse(promised("harbour", "mishap").isAfter(Instant.now()));
    }

    @Test
    @Order(3)
    void copiesFollowToTheOtherStore() throws Exception {
        until(
                "loss of the site is survived",
                () -> promised("harbour", "siteLoss").isAfter(Instant.EPOCH));
        try (Stream<Path> all = Files.walk(far.resolve("harbour"))) {
            assertTrue(all.anyMatch(p -> p.endsWith("backup_manifest.zst.age")));
        }
        try (Stream<Path> all = Files.walk(far.resolve("harbour"))) {
            assertTrue(all.anyMatch(p -> p.endsWith("base.tar.zst.age")), "one with tablespaces is a set of archives");
        }
        try (Stream<Path> all = Files.walk(far.resolve("harbour"))) {
            assertTrue(all.anyMatch(p -> p.endsWith("settings.txt.age")), "and what the server was set to");
        }
        assertTrue(observed.export().contains("\"id\":\"harbour/config-"));
        until("the other's is kept, too", () -> observed.export().contains("\"id\":\"berths/config-"));
    }

    @Test
    @Order(4)
    void theFileIsCopiedWhole() throws Exception {
        until("the sheds are promised", () -> promised("sheds", "mishap").isAfter(Instant.EPOCH));
        Path copy;
        try (Stream<Path> all = Files.walk(near.resolve("sheds"))) {
            copy = all.filter(p -> p.endsWith("sheds.db")).findFirst().orElseThrow();
        }
        assertEquals(2, sheds(copy.toString() + "?immutable=1"));
    }

    private static int sheds(String file) throws Exception {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:file:" + file);
                Statement s = c.createStatement()) {
            return s.executeQuery("SELECT count(*) FROM shed").getInt(1);
        }
    }

    private static Path sheds() {
        return work.path("sheds/sheds.db");
    }

    @Test
    @Order(5)
    void itsLogIsKeptWhileOthersWrite() throws Exception {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + sheds());
                Statement s = c.createStatement()) {
            s.execute("PRAGMA wal_autocheckpoint = 1");
            s.execute("INSERT INTO shed (holds) VALUES ('ropes')");
        }
        Instant written = Instant.now();
        until("what was written is promised", () -> promised("sheds", "mishap").isAfter(written));
        Instant last = promised("sheds", "mishap");
        until(
                "and it goes on where nothing is",
                () -> promised("sheds", "mishap").isAfter(last));
        until("and after loss of the site", () -> promised("sheds", "siteLoss").isAfter(written));
        drillHost();
        Path place = work.directory("sheds-again");
        restored("sheds", place.resolve("sheds").toString(), false);
        assertEquals(3, sheds(place.resolve("sheds/sheds.db").toString()));
    }

    @Test
    @Order(4)
    void whatIsWrittenToTheSecondServerIsPromisedInItsTime() throws Exception {
        Instant begun = Instant.now();
        until("the promise follows what is committed there", () -> {
            berths.query("insert into quay.truth values ()");
            return promised("berths", "mishap").isAfter(begun);
        });
        Instant last = promised("berths", "mishap");
        until("and goes on where nothing is", () -> promised("berths", "mishap").isAfter(last.plusSeconds(30)));
    }

    @Test
    @Order(5)
    void whatTheRunnerFoundOutSaysThatAllIsReady() throws Exception {
        JsonNode probe = JSON.missingNode();
        JsonNode sighting = JSON.missingNode();
        for (String line : observed.export().lines().toList()) {
            JsonNode node = JSON.readTree(line);
            boolean own = node.path("id").asText().equals("pier:harbour");
            probe = own && node.path("type").asText().equals("probe") ? node : probe;
            sighting = own && node.path("type").asText().equals("sighting") ? node : sighting;
        }
        assertTrue(sighting.path("identity").asText().matches("\\d{15,20}"), sighting.toString());
        assertEquals("on", probe.path("logs").asText(), probe.toString());
        assertEquals(probe.path("rights").path("needed"), probe.path("rights").path("held"), "and no more");
        assertTrue(probe.path("processes").path("archiver").asBoolean(), probe.toString());
        assertEquals("postgres", probe.path("components").path(0).path("name").asText(), probe.toString());
        assertEquals("loft", probe.path("components").path(1).path("name").asText());
        assertTrue(probe.path("destinations").path(0).path("written").asBoolean(), probe.toString());
        assertEquals(1, observed.ask("/api/runners").size());
        assertEquals(0, observed.ask("/api/runners").path(0).path("behind").size(), "it works by what is in force");
    }

    /** Does the drills that are asked for; gives what the program said, and whether all went well. */
    private static Map.Entry<Boolean, String> drill(String... asked) {
        return dock("drill", asked);
    }

    private static Map.Entry<Boolean, String> dock(String what, String... asked) {
        List<String> command = new ArrayList<>(Programs.java(
                "-Xmx96m",
                "-jar",
                Programs.jar("cli", "all"),
                what,
                "--config",
                work.path("dock.toml").toString()));
        command.addAll(List.of(asked));
        try {
            return Map.entry(true, work.run(command.toArray(String[]::new)));
        } catch (Workplace.Failed e) {
            return Map.entry(false, String.valueOf(e.getMessage()));
        }
    }

    private static JsonNode drilled(String database) throws Exception {
        for (JsonNode done : observed.ask("/api/drills").path("done")) {
            if (done.path("database").asText().equals(database)) {
                return done;
            }
        }
        return JSON.missingNode();
    }

    private static Path drillHost() throws Exception {
        if (Files.exists(work.path("dock.toml"))) {
            return work.path("dock.toml");
        }
        Path token = work.path("dock.token");
        Files.writeString(token, observed.token("dock", "viewer", "driller"));
        Path file = work.path("dock.toml");
        Files.writeString(
                file,
                String.join(
                        "\n",
                        "host = 'dock'",
                        "firth = '" + observed.firth().address("") + "'",
                        "token-file = '" + token + "'",
                        "state = '" + work.directory("dock") + "'",
                        "[stores]",
                        "near = '" + near + "'",
                        "far = '" + far + "'",
                        "[keys]",
                        "quay-2026 = '" + key + "'",
                        "[drills]",
                        "rate = 100_000_000",
                        "directory = '" + work.directory("drills") + "'",
                        "superuser = 'firth'",
                        "[drills.queries]",
                        "harbour = [{ask = 'select count(*) >= 0 from truth'}]",
                        "berths = [{in = 'quay', ask = 'select count(*) >= 0 from truth'}]",
                        "sheds = [{ask = 'select count(*) from shed'}]"));
        work.handOver(token);
        work.handOver(file);
        return file;
    }

    @Test
    @Order(6)
    void momentsTakenByChanceAreProvedByMachine() throws Exception {
        drillHost();
        Map.Entry<Boolean, String> all = drill("--all", "--within", "P7D");
        assertTrue(all.getKey(), all.getValue());
        for (String database : List.of("harbour", "berths", "sheds")) {
            JsonNode done = drilled(database);
            assertEquals("proved", done.path("outcome").asText(), database + ": " + done);
            assertEquals(done.path("moment"), done.path("reached"));
        }
        assertTrue(drilled("harbour").path("checks").toString().contains("pg_amcheck"), all.getValue());
        assertTrue(observed.export().contains("\"is\":\"restored\""), "the copies they read are known by it");
        assertFalse(drill("--all", "--within", "P7D").getValue().contains("proved"), "all were, in time");
        Path file = work.path("dock.toml");
        String good = Files.readString(file);
        Files.writeString(file, good.replace("'firth'\n", "'nobody_of_that_name'\n"));
        assertTrue(drill("harbour").getValue().contains("drills.superuser"), "it does not wait for ever");
        Files.writeString(file, good);
        try (Stream<Path> left = Files.list(work.path("drills"))) {
            assertEquals(List.of(), left.toList());
        }
    }

    /** How many moments are proved: a tenth of the PostgreSQL, a few of the MariaDB, whose dumps take a server each, the rest of the file. */
    private static final int MOMENTS = Integer.getInteger("firth.moments", 100);

    /** Of one program, which has two minutes. */
    private static final int AT_ONCE = 5;

    private static final int FILES_AT_ONCE = 15;

    @Test
    @Order(7)
    void manyMomentsAreProved() throws Exception {
        Instant begun = Instant.now();
        int harbour = MOMENTS / 10;
        int berths = MOMENTS / 30;
        prove("harbour", harbour, AT_ONCE);
        prove("berths", berths, AT_ONCE);
        prove("sheds", MOMENTS - harbour - berths, FILES_AT_ONCE);
        System.out.println(MOMENTS + " moments proved in "
                + Duration.between(begun, Instant.now()).toSeconds() + " s");
    }

    private static void prove(String database, int times, int atOnce) {
        for (int left = times; left > 0; left -= atOnce) {
            int now = Math.min(left, atOnce);
            Map.Entry<Boolean, String> said = drill(database, "--times", Integer.toString(now));
            assertTrue(said.getKey(), said.getValue());
            assertEquals(
                    now,
                    said.getValue().lines().filter(l -> l.endsWith(": proved")).count(),
                    said.getValue());
        }
    }

    /** Begins a restore as somebody would on its page, has it carried out, and gives what is kept of it then. */
    private static JsonNode restored(String database, String into, boolean over, String... more) throws Exception {
        String name = over ? database : database + "-2";
        String id = observed.as(
                        "ines",
                        "/api/restore/of/" + database,
                        "{\"query\":\"\",\"name\":\"" + name + "\",\"host\":\"dock\",\"over\":" + over
                                + ",\"paths\":[]}")
                .path("id")
                .asText();
        List<String> asked = new ArrayList<>(List.of(id, "--into", into));
        asked.addAll(List.of(more));
        Map.Entry<Boolean, String> ran = dock("restore", asked.toArray(String[]::new));
        assertTrue(ran.getKey(), database + ": " + ran.getValue());
        return observed.ask("/api/restore/begun/" + id);
    }

    @Test
    @Order(7)
    void aRestoreThatWasBegunIsCarriedOutAndAServerStartsOverIt() throws Exception {
        Path place = work.directory("brought-back");
        JsonNode harbour = restored("harbour", place.resolve("harbour").toString(), false);
        assertEquals("dock", harbour.path("course").path("host").asText(), harbour.toString());
        assertTrue(harbour.path("course").path("checks").toString().contains("pg_dumpall"), harbour.toString());
        assertTrue(harbour.path("course").path("states").path(2).path("done").asLong() > 1_000_000, harbour.toString());
        long fork = harbour.path("course")
                .path("positions")
                .path(0)
                .path("position")
                .asLong();
        long open = 0;
        for (JsonNode item : harbour.path("items")) {
            boolean left =
                    !item.hasNonNull("done") && !item.path("state").asText().equals("config");
            open += left ? 1 : 0;
        }
        assertEquals(2, open, "what is left to people beside the configuration: " + harbour);
        try (RealPostgres server = RealPostgres.over(work, place.resolve("harbour"))) {
            server.start();
            assertEquals("f", server.query("select pg_is_in_recovery()"));
            assertTrue(Integer.parseInt(server.query("select count(*) from truth")) > 0);
            assertEquals("0", server.query("select count(*) from pg_extension where extname = 'amcheck'"));
            String parted = server.query("select '0/0'::pg_lsn + " + fork);
            assertTrue(
                    server.query("select pg_read_file('pg_wal/00000002.history')")
                            .contains("1\t" + parted + "\t"),
                    parted);
        }
        // Its socket is called after its directory, and the old server has one, too.
        restored("berths", place.resolve("berths-2").toString(), false);
        try (RealMariadb server = RealMariadb.over(work, place.resolve("berths-2"))) {
            server.start();
            assertTrue(Integer.parseInt(server.query("select count(*) from quay.truth")) > 0);
            assertEquals("0", server.query("select count(*) from mysql.global_priv where User = 'firth_drill'"));
        }
        restored("sheds", place.resolve("sheds").toString(), false);
        restored("sheds", place.resolve("sheds").toString(), true, "--over", "sheds");
        try (Stream<Path> all = Files.list(place)) {
            assertTrue(
                    all.anyMatch(p -> p.getFileName().toString().startsWith("sheds.before-restore-")),
                    "what lay there before is set aside");
        }
    }

    @Test
    @Order(9)
    void aCopyThatDoesNotServeFailsItsDrill() throws Exception {
        kill();
        for (Path store : List.of(near, far)) {
            try (Stream<Path> all = Files.walk(store.resolve("harbour"))) {
                for (Path base : all.filter(p -> p.endsWith("base.tar.zst.age")).toList()) {
                    Path plain = work.path("base.tar");
                    inShell("age -d -i " + key + " '" + base + "' | zstd -dc >" + plain);
                    wipeControl(plain);
                    Files.delete(base);
                    inShell("zstd -qc " + plain + " | age -e -i " + key + " -o '" + base + "'");
                }
            }
        }
        // Unnoticed: nobody looked since.
        Map.Entry<Boolean, String> one = drill("harbour");
        assertFalse(one.getKey(), one.getValue());
        JsonNode done = drilled("harbour");
        assertEquals("failed", done.path("outcome").asText(), done.toString());
        assertTrue(done.path("message").asText().contains("the server did not open"), done.toString());
        assertTrue(done.path("suspects").asInt() > 0, done.toString());
        assertTrue(
                observed.ask("/api/watch").toString().contains("drill-failed"),
                "it is a finding until a later one proves");
    }

    private static void inShell(String pipe) throws Exception {
        Process process = new ProcessBuilder("sh", "-c", pipe).inheritIO().start();
        assertEquals(0, process.waitFor(), pipe);
    }

    /** What the server looks at first, within an archive: behind a head that begins with its name. */
    private static void wipeControl(Path archive) throws IOException {
        byte[] content = Files.readAllBytes(archive);
        byte[] name = "global/pg_control".getBytes(StandardCharsets.US_ASCII);
        for (int head = 0; head < content.length; head += 512) {
            if (Arrays.equals(content, head, head + name.length, name, 0, name.length)) {
                Arrays.fill(content, head + 512, head + 512 + 8192, (byte) 0);
                Files.write(archive, content);
                return;
            }
        }
        throw new IllegalStateException(archive + " holds none");
    }

    @Test
    @Order(8)
    void oneThatIsKilledLeavesNothingHalfAndNothingUntold() throws Exception {
        server.query("create table bulk as select md5(g::text) as pad from generate_series(1, 2000000) g");
        observed.as("tomas", "/api/databases/harbour/starts", "{\"kind\":\"full\",\"reason\":\"To be cut off\"}");
        until("a full is under way", 20, () -> {
            // What is to be encrypted does not lie in a store before it is.
            return Files.exists(work.path("state/harbour.taken"));
        });
        kill();
        Instant killed = Instant.now();
        start();
        until(
                "the run that was cut off is told",
                () -> runs().stream().anyMatch(r -> r.path("message").asText().contains("the runner was stopped")));
        until(
                "it goes on",
                () -> runs().stream()
                        .anyMatch(r -> r.path("kind").asText().equals("log")
                                && r.path("outcome").asText().equals("ok")
                                && Instant.parse(r.path("ended").asText()).isAfter(killed)));
        assertFalse(Files.exists(work.path("state/harbour.taken")));
        try (Stream<Path> parts = Files.list(near.resolve(".firth-part"))) {
            assertEquals(
                    List.of(), parts.filter(p -> p.toString().contains("base")).toList());
        }
        assertEquals(
                List.of(),
                runs().stream()
                        .filter(r -> r.path("outcome").asText().equals("running")
                                && Instant.parse(r.path("started").asText()).isBefore(killed))
                        .toList());
        List<String> begun =
                runs().stream().map(r -> r.path("id").asText()).sorted().toList();
        assertEquals(begun.stream().distinct().toList(), begun);
        assertEquals("", refusals());
    }

    /** What Firth did not take. */
    private static String refusals() {
        return String.join(
                "\n", said().lines().filter(l -> l.contains("does not take")).toList());
    }
}
