package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.servers.RealPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * kill -9 of the runner, the server it backs up and Firth at random moments, while the schedule has backups taken: as many kills as
 * {@code -Dfirth.kills} says. Nothing that was acknowledged is lost, nothing ran twice, and no file is left untold.
 */
class RunnerKillsIT {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int KILLS = Integer.getInteger("firth.kills", 100);
    private static final Duration SETTLES = Duration.ofMinutes(3);
    private static final String TRUTH =
            "select n || '|' || (extract(epoch from pg_xact_commit_timestamp(xmin)) * 1000000)::bigint from truth order by n";

    private static Pier pier;
    private static Observed observed;
    private static Path config;
    private final Random random = new Random(20_261_201);

    @BeforeAll
    static void begin() throws Exception {
        pier = new Pier("Asia/Tokyo");
        pier.server.query("create table truth(n serial primary key)");
        observed = new Observed(pier.near);
        observed.take(String.join(
                "\n",
                "{\"type\":\"site\",\"id\":\"north\",\"name\":\"Northquay\"}",
                "{\"type\":\"store\",\"id\":\"near\",\"name\":\"Quay near\",\"site\":\"north\",\"medium\":\"disk\",\"role\":\"near\"}",
                "{\"type\":\"route\",\"id\":\"r\",\"data\":[\"near\"],\"log\":[\"near\"]}",
                "{\"type\":\"policy\",\"id\":\"p\",\"name\":\"Harbour\",\"effectiveFrom\":\"2026-01-01T00:00:00Z\","
                        + "\"objective\":{\"mishap\":\"PT5M\"},\"schedules\":[{\"id\":\"fulls\",\"kind\":\"full\","
                        + "\"cron\":\"* * * * *\",\"within\":\"PT50S\"},{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT2S\"}]}",
                "{\"type\":\"database\",\"id\":\"harbour\",\"name\":\"harbour\",\"engine\":\"postgresql\",\"site\":\"north\","
                        + "\"host\":\"pier\",\"zone\":\"UTC\",\"policy\":\"p\",\"route\":\"r\",\"inServiceFrom\":\""
                        + Instant.now().minusSeconds(1) + "\"}"));
        Path token = pier.file("token", observed.token("pier", "runner"));
        Path state = pier.work.directory("state");
        config = pier.file(
                "runner.toml",
                String.join(
                        "\n",
                        "host = 'pier'",
                        "firth = '" + observed.firth().address("") + "'",
                        "token-file = '" + token + "'",
                        "state = '" + state + "'",
                        "every = 'PT1S'",
                        "[stores]",
                        "near = '" + pier.near + "'",
                        "[databases.harbour]",
                        "engine = 'postgresql'",
                        "connection = '" + pier.server.connection("firth_backup") + "'",
                        "receive = 'near'"));
        pier.start(config);
        pier.archive(state);
    }

    @AfterAll
    static void end() {
        pier.close();
        observed.close();
    }

    private void strike() throws Exception {
        pier.server.query("insert into truth default values");
        Thread.sleep(700 + random.nextInt(2_500));
        switch (random.nextInt(12)) {
            case 0 -> observed.firth().killAndStartAgain();
            case 1 -> {
                pier.server.kill();
                pier.server.start();
            }
            default -> {
                pier.kill();
                pier.start(config);
            }
        }
    }

    private static List<JsonNode> known(String type) throws Exception {
        List<JsonNode> out = new ArrayList<>();
        for (String line : observed.export().lines().toList()) {
            JsonNode node = JSON.readTree(line);
            if (node.path("type").asText().equals(type)) {
                out.add(node);
            }
        }
        return out;
    }

    /** The paths of copies that are there by what Firth knows; a segment that is still being received is called as it will be. */
    private static Set<String> told() throws Exception {
        Set<String> out = new HashSet<>();
        for (JsonNode b : known("backup")) {
            for (JsonNode c : b.path("copies")) {
                if (c.hasNonNull("path") && !c.hasNonNull("gone")) {
                    out.add(whole(c.path("path").asText()));
                }
            }
        }
        return out;
    }

    private static String whole(String path) {
        return path.replaceFirst("\\.partial$", "");
    }

    private static boolean isThere(String path) {
        return Files.exists(pier.near.resolve(path)) || Files.exists(pier.near.resolve(path + ".partial"));
    }

    /** Files in the store that belong to nothing that was told. */
    private static List<String> untold() throws Exception {
        Set<String> told = told();
        List<String> out = new ArrayList<>();
        for (String file : files()) {
            boolean known = told.contains(whole(file))
                    || file.endsWith(".history")
                    || file.endsWith(".backup")
                    || told.stream().anyMatch(t -> file.startsWith(t + "/"));
            if (!known) {
                out.add(file);
            }
        }
        return out;
    }

    private static List<String> files() throws IOException {
        try (Stream<Path> all = Files.walk(pier.near)) {
            return all.filter(Files::isRegularFile)
                    .map(f -> pier.near.relativize(f).toString())
                    .toList();
        }
    }

    private static Instant promised() throws Exception {
        Instant newest = Instant.EPOCH;
        for (Observed.Piece p : observed.promised()) {
            newest = p.to().isAfter(newest) ? p.to() : newest;
        }
        return newest;
    }

    private interface Holds {
        boolean now() throws Exception;
    }

    private static void until(String what, Holds holds) throws Exception {
        Instant deadline = Instant.now().plus(SETTLES);
        while (!holds.now()) {
            assertTrue(Instant.now().isBefore(deadline), what + ": not within three minutes; " + state());
            Thread.sleep(500);
        }
    }

    /** What there is to see where it stands still. */
    private static String state() throws Exception {
        List<JsonNode> runs = known("run");
        List<JsonNode> backups = known("backup");
        return String.join(
                "\n",
                "the runner said " + pier.said(),
                "promised " + observed.promised(),
                "the last runs " + runs.subList(Math.max(0, runs.size() - 6), runs.size()),
                "the last backups " + backups.subList(Math.max(0, backups.size() - 4), backups.size()),
                "it receives: " + pier.server.query("select * from pg_replication_slots"),
                "its files " + files().stream().sorted().toList(),
                "the runner's threads " + pier.threads(),
                "the server "
                        + pier.server
                                .log()
                                .lines()
                                .skip(Math.max(0, pier.server.log().lines().count() - 30))
                                .toList());
    }

    @Test
    void nothingIsLostNothingRunsTwiceAndNothingIsLeftUntold() throws Exception {
        // A full that was killed is tried again after a quarter of an hour only; what comes is received behind the
        // first.
        until("the first full", () -> !observed.promised().isEmpty());
        Set<String> acknowledged = new HashSet<>();
        for (int kill = 0; kill < KILLS; kill++) {
            strike();
            if (kill % 10 == 9) {
                acknowledged.addAll(told());
            }
        }
        Instant after = Instant.now();
        until("it goes on after all of it", () -> {
            pier.server.query("insert into truth default values");
            return promised().isAfter(after);
        });
        until("no run is under way for ever", () -> {
            List<JsonNode> going = known("run").stream()
                    .filter(r -> r.path("outcome").asText().equals("running"))
                    .filter(r -> Instant.parse(r.path("started").asText()).isBefore(after))
                    .toList();
            return going.isEmpty();
        });
        until("every file is told of or gone, as of " + untold(), () -> untold().isEmpty());

        Set<String> told = told();
        acknowledged.removeAll(told);
        assertEquals(Set.of(), acknowledged, "what was acknowledged is known");
        assertEquals(List.of(), told.stream().filter(p -> !isThere(p)).toList(), "and is there");
        Map<String, Integer> kept = new HashMap<>();
        List<JsonNode> runs = known("run");
        runs.stream()
                .filter(r -> r.path("outcome").asText().equals("ok") && r.has("slot"))
                .forEach(r -> kept.merge(r.path("kind").asText() + r.path("slot"), 1, Integer::sum));
        kept.values().removeIf(n -> n == 1);
        assertEquals(Map.of(), kept, "no slot was kept twice");
        assertEquals(
                runs.size(),
                runs.stream().map(r -> r.path("id").asText()).distinct().count());
        truthIsRestored();
        System.out.printf(
                java.util.Locale.ROOT,
                "%d kills: %d runs, %d copies, all told and there%n",
                KILLS,
                runs.size(),
                told.size());
    }

    private static void truthIsRestored() throws Exception {
        Instant to = promised();
        long micros = Duration.between(Instant.EPOCH, to).toNanos() / 1_000;
        List<String> truth = pier.server
                .query(TRUTH)
                .lines()
                .filter(l -> Long.parseLong(l.substring(l.indexOf('|') + 1)) <= micros)
                .map(l -> l.substring(0, l.indexOf('|')))
                .toList();
        Path script = pier.file("restore.sh", observed.script(to));
        Path data = pier.work.path("restored");
        pier.work.run(Map.of("STORE_1", pier.near.toString()), "sh", script.toString(), data.toString());
        try (RealPostgres restored = RealPostgres.over(pier.work, data)) {
            restored.set("track_commit_timestamp = on");
            restored.start();
            assertEquals(
                    truth,
                    restored.query("select n from truth order by n").lines().toList());
        }
    }
}
