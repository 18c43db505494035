package firth.demo.live;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FaultsTest {

    @TempDir
    private Path directory;

    private final List<String> done = new ArrayList<>();
    private Faults faults;

    @BeforeEach
    void begin() throws IOException {
        faults = new Faults(
                directory,
                List.of(
                        new Fault(
                                "tap",
                                "Close the tap",
                                "No water.",
                                () -> done.add("closed"),
                                Optional.of(() -> done.add("opened"))),
                        new Fault("cup", "Break the cup", "Shards.", () -> done.add("broken"), Optional.empty()),
                        new Fault(
                                "wall",
                                "Pull down the wall",
                                "Nothing.",
                                () -> {
                                    throw new IOException("it is too thick");
                                },
                                Optional.empty())));
    }

    private void ask(String fault, String broken) throws Exception {
        Files.writeString(directory.resolve("asked").resolve(fault), broken);
        assertTrue(faults.obey());
        assertFalse(faults.obey(), "once is enough");
    }

    private JsonNode told(String fault) throws IOException {
        faults.tell(Map.of());
        for (JsonNode f : Json.MAPPER
                .readTree(Files.readString(directory.resolve("state.json")))
                .path("faults")) {
            if (f.path("id").asText().equals(fault)) {
                return f;
            }
        }
        throw new AssertionError(fault);
    }

    @Test
    void whatIsAskedForIsDoneOnceAndSaid() throws Exception {
        assertFalse(faults.obey());
        assertTrue(told("tap").path("at").isNull());
        ask("tap", "true");
        assertTrue(told("tap").path("broken").asBoolean());
        assertFalse(told("tap").path("at").isNull());
        ask("tap", "false");
        assertFalse(told("tap").path("broken").asBoolean());
        assertEquals(List.of("closed", "opened"), done);
    }

    @Test
    void whatNobodyCanPutRightMayBeBrokenAgain() throws Exception {
        assertTrue(told("cup").path("once").asBoolean());
        ask("cup", "true");
        ask("cup", "false");
        assertFalse(told("cup").path("broken").asBoolean());
        ask("cup", "true");
        assertEquals(List.of("broken", "broken"), done);
    }

    @Test
    void whatCouldNotBeDoneIsSaid() throws Exception {
        ask("wall", "true");
        assertEquals("it is too thick", told("wall").path("said").asText());
        assertFalse(told("wall").path("broken").asBoolean());
    }

    @Test
    void whatDatabasesSayIsPassedOn() throws Exception {
        faults.tell(Map.of(
                "harbour", new Pier.Truth(3, Optional.of(Instant.parse("2026-11-30T10:00:00Z")), ""),
                "berths", new Pier.Truth(0, Optional.empty(), "it does not answer")));
        JsonNode truth = Json.MAPPER
                .readTree(Files.readString(directory.resolve("state.json")))
                .path("truth");
        assertEquals(2, truth.size());
        for (JsonNode t : truth) {
            boolean up = t.path("database").asText().equals("harbour");
            assertEquals(up ? 3 : 0, t.path("rows").asLong());
            assertEquals(
                    up ? "2026-11-30T10:00:00Z" : "null", t.path("committed").asText());
            assertEquals(up ? "" : "it does not answer", t.path("said").asText());
        }
    }
}
