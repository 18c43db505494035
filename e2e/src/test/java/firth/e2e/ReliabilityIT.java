package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/**
 * kill -9 of server and agent at random moments during imports, stocktakes and purges, and a disk that is full. As many kills as
 * {@code -Dfirth.kills} says.
 */
class ReliabilityIT {

    private static final int KILLS = Integer.getInteger("firth.kills", 6);
    private static final Instant BEGIN = Instant.parse("2026-01-01T00:00:00Z");
    private static final int BATCH = 60;

    private final Random random = new Random(Long.getLong("firth.seed", 20261127L));
    private final Set<String> acknowledged = new TreeSet<>();
    private final Set<String> approved = new TreeSet<>();
    private int made;

    private static final String FLEET = """
            {"type":"site","id":"north"}
            {"type":"store","id":"near","site":"north","medium":"disk","role":"near"}
            {"type":"policy","id":"p","effectiveFrom":"2026-01-01T00:00:00Z","purgeApprovals":0,"objective":{"mishap":"P1D"},"retain":[{"role":"near","fulls":2}]}
            {"type":"database","id":"d","zone":"UTC","site":"north","policy":"p","inServiceFrom":"2026-01-01T00:00:00Z"}
            """;

    private static String path(String id) {
        return "/near/d/" + id;
    }

    private static String full(int n) {
        Instant ended = BEGIN.plus(Duration.ofMinutes(30L * n));
        return """
                {"type":"backup","id":"full-%05d","database":"d","kind":"full","started":"%s","ended":"%s","bytes":100,\
                "copies":[{"store":"near","path":"%s"}]}""".formatted(n, ended.minusSeconds(60), ended, path("full-%05d".formatted(n)));
    }

    /** Lays the files of the next fulls and gives their records. */
    private String next(Harbour harbour) throws IOException {
        StringBuilder lines = new StringBuilder();
        for (int i = 0; i < BATCH; i++) {
            Path file = harbour.file(path("full-%05d".formatted(made)));
            Files.createDirectories(file.getParent());
            Files.write(file, new byte[100]);
            lines.append(full(made++)).append('\n');
        }
        return lines.toString();
    }

    private Set<String> known(Harbour harbour) throws IOException, InterruptedException {
        return harbour.text("/api/export")
                .lines()
                .filter(l -> l.contains("\"type\":\"backup\""))
                .map(l -> l.replaceFirst(".*\"id\":\"(full-\\d+)\".*", "$1"))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static Set<String> files(Harbour harbour) throws IOException {
        try (Stream<Path> all = Files.list(harbour.file("/near/d"))) {
            return all.map(f -> f.getFileName().toString()).collect(Collectors.toCollection(TreeSet::new));
        }
    }

    /** Kills one of the two some time into something, and starts it again. */
    private void kill(Harbour harbour, int within) throws IOException, InterruptedException {
        Thread.sleep(random.nextInt(within));
        if (random.nextBoolean()) {
            harbour.killServer();
            harbour.startServer(0);
        } else {
            harbour.killAgent();
            harbour.startAgent();
        }
    }

    @Test
    void whateverIsKilledNothingAcknowledgedIsLostAndNothingUnapprovedIsDeleted() throws Exception {
        try (Harbour harbour = new Harbour()) {
            harbour.startServer(0);
            Files.createDirectories(harbour.store());
            Files.writeString(harbour.store().resolve("mood.properties"), "slow=4\n");
            assertEquals(
                    200,
                    harbour.post("/api/import", "application/x-ndjson", FLEET).statusCode());
            harbour.startAgent();
            imported(harbour, false);
            for (int k = 0; k < KILLS; k++) {
                switch (k % 3) {
                    case 0 -> imported(harbour, true);
                    case 1 -> purged(harbour);
                    default -> stockTaken(harbour);
                }
                check(harbour);
            }
            System.out.println(
                    KILLS + " kills: " + acknowledged.size() + " backups acknowledged and known, " + approved.size()
                            + " copies approved and deleted, " + files(harbour).size() + " files left");
        }
    }

    /** An import during which the server dies is taken wholly or not at all; one that was acknowledged is there. */
    private void imported(Harbour harbour, boolean killing) throws Exception {
        String lines = next(harbour);
        Set<String> own = lines.lines()
                .map(l -> l.replaceFirst(".*\"id\":\"(full-\\d+)\".*", "$1"))
                .collect(Collectors.toCollection(TreeSet::new));
        CompletableFuture<HttpResponse<String>> sent = CompletableFuture.supplyAsync(() -> {
            try {
                return harbour.post("/api/import", "application/x-ndjson", lines);
            } catch (IOException | InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        if (killing) {
            Thread.sleep(random.nextInt(60));
            harbour.killServer();
            harbour.startServer(0);
        }
        boolean answered;
        try {
            answered = sent.get().statusCode() == 200;
        } catch (ExecutionException died) {
            answered = false;
        }
        Set<String> there = known(harbour);
        there.retainAll(own);
        assertTrue(there.isEmpty() || there.equals(own), "a part of an import was taken: " + there.size());
        assertTrue(!answered || there.equals(own), "what was acknowledged is lost");
        if (there.isEmpty()) {
            assertEquals(
                    200,
                    harbour.post("/api/import", "application/x-ndjson", lines).statusCode());
        }
        acknowledged.addAll(own);
    }

    /** A purge during which somebody dies ends with each item deleted once it was approved. */
    private void purged(Harbour harbour) throws Exception {
        JsonNode choice = harbour.posted("/api/purge/choice", "{\"store\":\"near\",\"leftOut\":[]}");
        if (choice.path("copies").asInt() == 0) {
            return;
        }
        String id = asked(harbour, choice);
        items(harbour, id).forEach(i -> approved.add(i.path("backup").asText()));
        harbour.posted("/api/purge/" + id + "/carry-out", "");
        kill(harbour, 700);
        JsonNode list = await(harbour, "/api/purge/" + id, "state", "done");
        List<JsonNode> items = items(harbour, id);
        assertEquals(choice.path("copies").asInt(), items.size());
        for (JsonNode item : items) {
            assertEquals("deleted", item.path("state").asText(), item.toString());
        }
        assertTrue(
                list.path("after").path("equal").asBoolean(), list.path("after").toString());
    }

    private static String asked(Harbour harbour, JsonNode seen) throws Exception {
        return harbour.posted(
                        "/api/purge",
                        "{\"store\":\"near\",\"leftOut\":[],\"reason\":\"room\",\"hash\":\""
                                + seen.path("hash").asText() + "\",\"asOf\":\""
                                + seen.path("asOf").asText() + "\"}")
                .path("id")
                .asText();
    }

    private static List<JsonNode> items(Harbour harbour, String list) throws Exception {
        List<JsonNode> out = new ArrayList<>();
        int known = -1;
        while (known < out.size()) {
            known = out.size();
            int last = known == 0 ? 0 : out.get(known - 1).path("num").asInt();
            harbour.get("/api/purge/" + list + "/items?after=" + last).forEach(out::add);
        }
        return out;
    }

    /** A stocktake during which somebody dies is taken in the end, and finds all as it is. */
    private void stockTaken(Harbour harbour) throws Exception {
        String id = harbour.posted("/api/stocktakes/of/near", "").path("id").asText();
        kill(harbour, 900);
        Instant deadline = Instant.now().plus(Duration.ofSeconds(60));
        JsonNode take = harbour.get("/api/stocktakes/" + id);
        while (!take.path("take").path("state").asText().equals("taken")) {
            assertTrue(Instant.now().isBefore(deadline), "nobody took stock");
            Thread.sleep(100);
            take = harbour.get("/api/stocktakes/" + id);
        }
        assertEquals(0, take.path("finds").size(), take.path("finds").toString());
    }

    private static JsonNode await(Harbour harbour, String path, String field, String value) throws Exception {
        Instant deadline = Instant.now().plus(Duration.ofSeconds(60));
        JsonNode answer = harbour.get(path);
        while (!answer.path(field).asText().equals(value)) {
            assertTrue(Instant.now().isBefore(deadline), path + " stays " + answer.path(field));
            Thread.sleep(100);
            answer = harbour.get(path);
        }
        return answer;
    }

    private void check(Harbour harbour) throws Exception {
        assertTrue(known(harbour).containsAll(acknowledged), "what was acknowledged is known");
        Set<String> expected = new TreeSet<>(acknowledged);
        expected.removeAll(approved);
        assertEquals(expected, files(harbour), "exactly what was approved is gone");
        assertTrue(harbour.get("/api/record/whole").path("broken").isNull(), "the record is whole");
        assertTrue(harbour.agentLives());
    }

    @Test
    void aFullDiskGivesAClearErrorAndNoHalfFact() throws Exception {
        try (Harbour harbour = new Harbour()) {
            harbour.startServer(0);
            assertEquals(
                    200,
                    harbour.post("/api/import", "application/x-ndjson", FLEET).statusCode());
            assertEquals(
                    200,
                    harbour.post("/api/import", "application/x-ndjson", next(harbour))
                            .statusCode());
            String id = asked(harbour, harbour.posted("/api/purge/choice", "{\"store\":\"near\",\"leftOut\":[]}"));
            harbour.posted("/api/purge/" + id + "/carry-out", "");
            Set<String> before = known(harbour);
            String purge = harbour.text("/api/purge/" + id);
            harbour.killServer();

            // A file may grow by 8 MiB and no further: as good as a full disk to whoever writes it.
            harbour.startServer(8 * 1024);
            StringBuilder many = new StringBuilder();
            for (int n = 0; n < 60_000; n++) {
                many.append(full(100_000 + n)).append('\n');
            }
            HttpResponse<String> refused = harbour.post("/api/import", "application/x-ndjson", many.toString());
            assertEquals(500, refused.statusCode());
            assertTrue(refused.body().contains("is there room on its disk"), refused.body());
            assertTrue(refused.body().contains("unharmed"), refused.body());
            assertEquals(before, known(harbour), "not one line of it was taken");
            assertEquals(purge, harbour.text("/api/purge/" + id));
            harbour.killServer();

            // What is told of a purge is not half kept either.
            harbour.startServer(3 * 1024);
            String longText = "x".repeat(100_000);
            String hash = harbour.get("/api/purge/" + id).path("hash").asText();
            String items = IntStream.rangeClosed(1, 50)
                    .mapToObj(n -> "{\"item\":" + n + ",\"outcome\":\"failed\",\"text\":\"" + longText + "\"}")
                    .collect(Collectors.joining(","));
            HttpResponse<String> told = harbour.post(
                    "/api/purge/" + id + "/told",
                    "application/json",
                    "{\"hash\":\"" + hash + "\",\"items\":[" + items + "]}");
            assertEquals(500, told.statusCode(), told.body());
            assertEquals(purge, harbour.text("/api/purge/" + id));
            harbour.killServer();
            harbour.startServer(0);
            assertEquals(before, known(harbour));
            assertTrue(harbour.get("/api/record/whole").path("broken").isNull());
        }
    }
}
