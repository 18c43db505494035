package firth.runner.drills;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.engines.sqlite.RestoredFile;
import firth.runner.Settings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A restore that somebody began, carried out on a host. */
class RestoringTest extends Sheds {

    private volatile boolean over;
    private volatile boolean ended;
    private volatile boolean encrypted;
    private Path into;

    @BeforeEach
    void place() throws IOException {
        into = Files.createDirectory(directory.resolve("restored")).resolve("sheds-2");
    }

    @Override
    String answer(String path, String method) {
        if (!path.equals("/api/restore/begun/restore-1/checklist.json")) {
            return "{}";
        }
        ObjectNode out = checklist();
        ObjectNode kept = (ObjectNode) out.path("kept");
        kept.put("over", over).put("name", over ? "sheds" : "sheds-2");
        if (ended) {
            kept.putObject("ended").put("ok", true);
        }
        if (encrypted) {
            ((ObjectNode) kept.path("plan").path("destination"))
                    .putArray("keys")
                    .add("quay-2026");
        }
        return out.toString();
    }

    private Restoring restoring(String... name) throws IOException {
        return new Restoring(
                host(),
                new Restoring.Order("restore-1", into, name.length == 0 ? Optional.empty() : Optional.of(name[0])),
                CLOCK,
                said::add);
    }

    /** Gives what it was. */
    private byte[] spoil() throws IOException {
        byte[] good = Files.readAllBytes(copy);
        byte[] bad = good.clone();
        java.util.Arrays.fill(bad, 4096, bad.length, (byte) 7);
        Files.write(copy, bad);
        return good;
    }

    private JsonNode last() {
        return told.get(told.size() - 1);
    }

    private String why(String... name) {
        return String.valueOf(
                assertThrows(Untried.class, () -> restoring(name).carryOut()).getMessage());
    }

    @Test
    void whatIsRestoredStaysAndItsCourseIsTold() throws Exception {
        queries.add(new Settings.Query("", "SELECT count(*) FROM shed"));
        assertTrue(restoring().carryOut(), said.toString());
        assertEquals(Optional.of("2"), new RestoredFile(in(into).get(0)).first("SELECT count(*) FROM shed"));
        List<String> states = new ArrayList<>();
        last().path("states").forEach(s -> states.add(s.path("state").asText()));
        assertEquals(List.of("ready", "instance", "files", "logs", "open"), states);
        last().path("states").forEach(s -> assertTrue(s.has("ended"), s.toString()));
        assertEquals(
                Files.size(copy), last().path("states").path(2).path("done").asLong());
        assertEquals(MOMENT, last().path("reached").asText());
        assertEquals(NOW.toString(), last().path("opened").asText());
        assertEquals("dock", last().path("host").asText());
        assertTrue(last().path("checks").toString().contains("count(*) FROM shed: 2"), last().toString());
        assertEquals(List.of(), in(scratch), "nothing of it stays beside the files");
        assertFalse(Files.exists(directory.resolve("state/restore.json")));
    }

    @Test
    void nothingIsWrittenOverThatWasNotNamed() throws Exception {
        Files.createDirectory(into);
        Files.writeString(into.resolve("precious"), "all there is");
        assertTrue(why().contains("is not empty"));
        assertTrue(why("sheds").contains("begun beside the old database"));
        over = true;
        assertTrue(why().contains("say --over and its name"));
        assertTrue(why("berths").contains("say --over and its name"));
        assertEquals("all there is", Files.readString(into.resolve("precious")));
        assertTrue(restoring("sheds").carryOut());
        assertEquals(
                "all there is",
                Files.readString(into.resolveSibling("sheds-2.before-restore-1").resolve("precious")),
                "what lay there is set aside and not lost");
        assertEquals(1, in(into).size());
    }

    @Test
    void whereSomethingStillRunsNothingIsSetAside() throws Exception {
        over = true;
        Files.createDirectory(into);
        Path file = Files.writeString(into.resolve("in-use"), "x");
        Process user = new ProcessBuilder("tail", "-f", file.toString()).start();
        try {
            while (Remains.using(into).isEmpty()) {
                Thread.sleep(10);
            }
            assertTrue(why("sheds").contains("process [" + user.pid() + "]: stop it first"));
        } finally {
            user.destroyForcibly().waitFor();
        }
        Files.writeString(into.resolve("postmaster.pid"), "1");
        assertTrue(why("sheds").contains("still: stop it first"));
        assertTrue(Files.exists(file));
    }

    @Test
    void whatCannotBeTriedHereTouchesNothing() throws Exception {
        ended = true;
        assertEquals("it has ended already", why());
        ended = false;
        encrypted = true;
        assertEquals("its copies are encrypted with quay-2026, of which [keys] does not say where it lies", why());
        encrypted = false;
        store = "far";
        assertTrue(why().contains("of which [stores] does not say where it lies"));
        store = "near";
        bytes = 1e18;
        assertTrue(why().contains("free"));
        bytes = 1;
        into = directory.resolve("nowhere/sheds-2");
        assertTrue(why().contains("there is no directory"));
        assertEquals(List.of(), told);
        assertFalse(Files.exists(into));
    }

    @Test
    void aFailureIsToldInItsOwnWordsAndTheNextTryBeginsAnew() throws Exception {
        byte[] good = spoil();
        assertFalse(restoring().carryOut());
        assertTrue(last().path("failed").asText().contains("integrity_check"), last().toString());
        assertTrue(said.toString().contains("the same command tries again"), said.toString());
        Files.write(copy, good);
        assertTrue(restoring().carryOut(), said.toString());
        assertFalse(last().has("failed"), last().toString());
    }

    @Test
    void whatFirthDidNotHearIsToldTheNextTimeAndNotDoneAgain() throws Exception {
        Path note = directory.resolve("state/restore.json");
        Files.createDirectories(note.getParent());
        ObjectNode course = Course.begun("dock", into.toString()).put("reached", MOMENT);
        Files.writeString(note, "{\"restore\":\"restore-1\",\"into\":\"" + into + "\",\"course\":" + course + "}");
        assertTrue(restoring().carryOut());
        assertEquals(MOMENT, last().path("reached").asText());
        assertEquals(List.of("POST /api/restore/begun/restore-1/course"), asked);
        assertFalse(Files.exists(into), "it is not done again");
        assertFalse(Files.exists(note));
    }

    @Test
    void firthHasToHearOfTheBeginning() throws Exception {
        refusal = 400;
        assertThrows(
                firth.exchange.link.FirthLink.Refused.class, () -> restoring().carryOut());
        assertFalse(Files.exists(into));
        assertEquals(List.of(), in(scratch));
    }

    @Test
    void whatATryLeftIsNotTakenFromSomebodyWhoUsesItNow() throws Exception {
        byte[] good = spoil();
        assertFalse(restoring().carryOut());
        Files.write(copy, good);
        Path salvaged = Files.writeString(into.resolve("salvaged"), "all there is");
        Process user = new ProcessBuilder("tail", "-f", salvaged.toString()).start();
        try {
            while (Remains.using(into).isEmpty()) {
                Thread.sleep(10);
            }
            assertTrue(why().contains("process [" + user.pid() + "]: stop it first"));
            assertTrue(user.isAlive());
            assertEquals("all there is", Files.readString(salvaged));
        } finally {
            user.destroyForcibly().waitFor();
        }
        assertTrue(restoring().carryOut(), said.toString());
        assertFalse(Files.exists(salvaged));
    }

    @Test
    void whatIsRefusedIsNotToldAsBegun() throws Exception {
        Files.createDirectory(into);
        Files.writeString(into.resolve("precious"), "all there is");
        assertTrue(why().contains("is not empty"));
        assertEquals(List.of(), told);
    }
}
