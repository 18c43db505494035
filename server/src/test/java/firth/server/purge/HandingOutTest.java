package firth.server.purge;

import static firth.server.people.Being.agentAt;
import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Whatever happens between any two steps of a purge (rules put in force, holds, spoiled copies, assignments, copies that land late,
 * cancels, pauses), no copy is handed out that a rule needs at that moment, and nothing promised is lost.
 */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class HandingOutTest {

    private static final int STEPS = 26;

    private Instant now = Instant.parse("2026-03-01T00:00:00Z");
    private Random random;
    private String database;
    private long position = 100;
    private int made;
    private final List<String> backups = new ArrayList<>();
    private final List<String> waiting = new ArrayList<>();
    private final Set<String> ended = new HashSet<>();
    private int handed;

    static IntStream seeds() {
        return IntStream.range(0, 5 * Integer.getInteger("firth.thorough", 1));
    }

    private void at(Instant moment) {
        now = moment;
        QuarkusMock.installMockForType(Clock.fixed(moment, ZoneOffset.UTC), Clock.class);
    }

    private static String line(String json, Object... values) {
        return String.format(Locale.ROOT, json.replace('\'', '"'), values);
    }

    private static void take(String lines) {
        JsonPath report = being("harald")
                .contentType("application/x-ndjson")
                .body(lines.getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=test")
                .jsonPath();
        assertEquals(List.of(), report.getList("rejected"), lines);
    }

    private void policy(String id, int version) {
        String reach = "P" + (1 + random.nextInt(5)) + "D";
        String rules = random.nextInt(3) == 0
                ? line("{'role':'near','fulls':%d}", 1 + random.nextInt(3))
                : line("{'role':'near','reach':'%s','fulls':%d}", reach, random.nextInt(3));
        String site = random.nextBoolean() ? line(",'siteLoss':'P9D'") : "";
        take(line(
                        "{'type':'policy','id':'%s','version':%d,'effectiveFrom':'%s','objective':{'mishap':'P1D'%s,'reach':'P%dD'},'retain':[",
                        id, version, now, site, 2 + random.nextInt(4))
                + rules
                + line(",{'role':'far','fulls':1}],'purgeApprovals':%d}", random.nextInt(2)));
    }

    /** A full or a log, in one store or in both, there now or only in a day or two. */
    private void backup() {
        String id = database + "-" + made++;
        boolean full = made % 4 == 1;
        Instant far = now.plus(Duration.ofHours(random.nextInt(4) == 0 ? random.nextInt(50) : 0));
        String copies = line("{'store':'near','landed':'%s','path':'%s/%s','bytes':10}", now, database, id)
                + (random.nextBoolean()
                        ? line(",{'store':'far','landed':'%s','path':'%s/%s','bytes':10}", far, database, id)
                        : "");
        long from = position;
        position += 10;
        String what = full
                ? line("'kind':'full','from':%d,'to':%d,'selfContained':%s", from, from + 5, random.nextBoolean())
                : line(
                        "'kind':'log','from':%d,'to':%d,'fromTime':'%s','toTime':'%s'",
                        from, position, now.minus(Duration.ofHours(6)), now);
        if (full) {
            position = from;
        }
        String record = line(
                "{'type':'backup','id':'%s','database':'%s',%s,'ended':'%s','copies':[%s]}",
                id, database, what, now, copies);
        if (random.nextInt(5) == 0) {
            waiting.add(record);
        } else {
            take(record);
            backups.add(id);
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void noCopyIsHandedOutThatIsNeededThen(int seed) throws IOException {
        random = new Random(seed);
        database = "d" + seed;
        at(now.plus(Duration.ofDays(40L * seed)));
        policy("p" + seed, 1);
        policy("q" + seed, 1);
        take(line("{'type':'site','id':'north','name':'N'}") + "\n" + line("{'type':'site','id':'south','name':'S'}")
                + "\n"
                + line("{'type':'store','id':'near','site':'north','role':'near'}") + "\n"
                + line("{'type':'store','id':'far','site':'south','role':'far'}") + "\n"
                + line(
                        "{'type':'database','id':'%s','site':'north','zone':'UTC','policy':'p%d','inServiceFrom':'%s'}",
                        database, seed, now));
        String agent = agentAt("near");
        for (int step = 0; step < STEPS; step++) {
            at(now.plus(Duration.ofHours(1 + random.nextInt(9))));
            backup();
            backup();
            happen(seed, step);
            if (step > 6) {
                purge(agent);
            }
        }
        lists().forEach(l -> being("ines").post("/api/purge/" + l + "/cancel"));
        assertTrue(handed > 0 || seed > 0, "something was handed out at least where it is expected");
    }

    /** Something that may change what is needed. */
    private void happen(int seed, int step) {
        switch (random.nextInt(7)) {
            case 0 -> policy((random.nextBoolean() ? "p" : "q") + seed, 2 + step);
            case 1 ->
                being("ines")
                        .body(Map.of("backup", any(), "reason", "audit"))
                        .post("/api/databases/" + database + "/holds");
            case 2 ->
                take(line(
                        "{'type':'assignment','id':'a%d','database':'%s','policy':'%s','from':'%s'}",
                        1000 * seed + step, database, (random.nextBoolean() ? "p" : "q") + seed, now));
            case 3 -> {
                if (!waiting.isEmpty()) {
                    take(waiting.remove(0));
                }
            }
            case 4 ->
                lists().stream()
                        .findAny()
                        .ifPresent(l ->
                                being("ines").post("/api/purge/" + l + (random.nextBoolean() ? "/pause" : "/cancel")));
            default -> {}
        }
    }

    private String any() {
        return backups.get(random.nextInt(backups.size()));
    }

    private List<String> lists() {
        return choice().getList("lists.findAll { it.state != 'done' && it.state != 'cancelled' }.id");
    }

    private static JsonPath choice() {
        return being("ines")
                .body("{\"store\":\"near\",\"leftOut\":[]}")
                .post("/api/purge/choice")
                .jsonPath();
    }

    private void purge(String agent) throws IOException {
        JsonPath seen = choice();
        List<String> open = seen.getList("lists.findAll { it.state != 'done' && it.state != 'cancelled' }.id");
        if (open.isEmpty()) {
            Map<String, Object> asked = new HashMap<>();
            asked.put("store", "near");
            asked.put("leftOut", List.of());
            asked.put("reason", "room");
            asked.put("hash", seen.getString("hash"));
            asked.put("asOf", seen.getString("asOf"));
            being("ines").body(asked).post("/api/purge");
            return;
        }
        for (String id : open) {
            JsonPath list = given().get("/api/purge/" + id).jsonPath();
            if (list.getString("state").equals("asked")) {
                being("tomas").body(Map.of("hash", list.getString("hash"))).post("/api/purge/" + id + "/approve");
            } else if (!list.getString("state").equals("running")) {
                being("ines").post("/api/purge/" + id + "/carry-out");
            }
        }
        List<Map<String, Object>> batches =
                program(agent).post("/api/agents/near/work").jsonPath().getList("batches");
        for (Map<String, Object> batch : batches) {
            carryOut(agent, batch);
        }
    }

    @SuppressWarnings("unchecked")
    private void carryOut(String agent, Map<String, Object> batch) throws IOException {
        List<Map<String, Object>> items = (List<Map<String, Object>>) batch.get("items");
        List<Evaluation> before = evaluations();
        Map<String, Verdict> verdicts = new HashMap<>();
        for (Evaluation e : before) {
            for (int k = 0; k < e.retention().size(); k++) {
                verdicts.put(
                        e.history().id(e.retention().backup(k)) + " "
                                + e.retention().store(k),
                        e.retention().verdict(k));
            }
        }
        List<Map<String, Object>> told = new ArrayList<>();
        for (Map<String, Object> i : items) {
            Verdict verdict = verdicts.get(i.get("backup") + " near");
            assertTrue(verdict != null && verdict != Verdict.NEEDED, i + " is " + verdict + " at " + now);
            assertTrue(ended.add((String) i.get("backup")), "handed out again after it was told of: " + i);
            told.add(Map.of("item", i.get("item"), "outcome", "deleted", "freed", 10));
            handed++;
        }
        Response taken = program(agent)
                .body(Map.of("purge", batch.get("purge"), "hash", batch.get("hash"), "items", told))
                .post("/api/agents/near/told");
        assertEquals(items.size(), taken.jsonPath().getInt("taken"), taken.asString());
        List<Evaluation> after = evaluations();
        for (int n = 0; n < before.size(); n++) {
            holds(before.get(n), after.get(n));
        }
    }

    /** What was promised holds still, from all stores together. */
    private void holds(Evaluation before, Evaluation after) {
        Instant since = before.version()
                .flatMap(v -> v.objective().reach())
                .map(now::minus)
                .orElse(now);
        for (Hazard hazard : Hazard.values()) {
            if (before.under(hazard).objective().isPresent()) {
                for (Piece p : before.under(hazard).restorable()) {
                    Instant from = p.from().isBefore(since) ? since : p.from();
                    assertTrue(
                            p.to().isBefore(since)
                                    || after.under(hazard).restorable().stream()
                                            .anyMatch(q -> !q.from().isAfter(from) && !q.to().isBefore(p.to())),
                            hazard + " " + p + " at " + now);
                }
            }
        }
        assertEquals(before.mishap().recoveryPoint(), after.mishap().recoveryPoint());
    }

    /** What the facts come to at this moment, worked out from what Firth exports. */
    private List<Evaluation> evaluations() throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        FleetFileReader.read(new ByteArrayInputStream(given().get("/api/export").asByteArray()), "export", catalog);
        return catalog.databases().stream()
                .map(f -> Evaluation.of(f, catalog.fleet(), now, new Span(now, now)))
                .toList();
    }
}
