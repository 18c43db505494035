package firth.runner.drills;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.link.FirthLink;
import firth.runner.Settings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Drills of one database after the other. */
class DrillHostTest extends Sheds {

    private static final String ROW =
            "{\"databases\":1,\"rows\":[{\"database\":\"sheds\",\"proved\":%s,\"state\":\"%s\"}]}";

    private volatile String rows = ROW.formatted("null", "none");

    @Override
    String answer(String path, String method) {
        if (path.endsWith("checklist.json")) {
            return checklist().toString();
        }
        if (path.equals("/api/drills")) {
            return method.equals("GET")
                    ? rows
                    : "{\"id\":\"drill-" + asked.size() + "\",\"database\":\"sheds\",\"moment\":\"" + MOMENT + "\"}";
        }
        return "{}";
    }

    private DrillHost.Ended drill(Optional<Duration> within, String... named) throws Exception {
        return drills().drill(new DrillHost.Wanted(List.of(named), within, 1));
    }

    private DrillHost drills() throws IOException {
        HostCommand.Host host = host();
        return new DrillHost(host.settings(), host.drilling(), host.firth(), CLOCK, said::add);
    }

    @Test
    void whatIsRestoredIsProvedByTheEngineAndByWhatItsOwnerAsks() throws Exception {
        queries.add(new Settings.Query("", "SELECT count(*) FROM shed"));
        assertEquals(new DrillHost.Ended(0, 0), drill(Optional.empty(), "sheds"));
        JsonNode first = told.get(0);
        assertTrue(first.path("ok").asBoolean(), first.toString());
        assertEquals(MOMENT, first.path("reached").asText());
        assertEquals(
                "SELECT count(*) FROM shed: 2", first.path("checks").path(2).asText());
        assertEquals(List.of(), in(scratch), "nothing of it stays");
        assertFalse(Files.exists(directory.resolve("state/drill.json")));
    }

    @Test
    void aCopyThatDoesNotReadIsADrillThatFailed() throws Exception {
        byte[] all = Files.readAllBytes(copy);
        java.util.Arrays.fill(all, 4096, all.length, (byte) 7);
        Files.write(copy, all);
        assertEquals(new DrillHost.Ended(1, 0), drill(Optional.empty(), "sheds"));
        assertFalse(told.get(0).path("ok").asBoolean());
        assertTrue(told.get(0).path("message").asText().contains("integrity_check"), told.toString());
        Files.delete(copy);
        drill(Optional.empty(), "sheds");
        assertTrue(told.get(1).path("message").asText().contains("sheds-1.db"), told.toString());
        assertEquals(List.of(), in(scratch));
    }

    @Test
    void whatItsOwnerAsksHasToBeSo() throws Exception {
        for (String nothing : List.of("SELECT 0", "SELECT n FROM shed WHERE n > 9", "SELECT ''", "SELECT NULL")) {
            queries.clear();
            queries.add(new Settings.Query("", nothing));
            assertEquals(new DrillHost.Ended(1, 0), drill(Optional.empty(), "sheds"), nothing);
        }
        queries.clear();
        queries.add(new Settings.Query("", "SELECT m FROM shed"));
        drill(Optional.empty(), "sheds");
        assertTrue(told.get(4).path("message").asText().contains("no such column"), told.toString());
    }

    @Test
    void whatThisHostCannotTrySaysNothingOfTheCopiesAndProposesNothing() throws Exception {
        bytes = 2_000_000;
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        bytes = 1;
        store = "far";
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        assertEquals(List.of(), told);
        assertFalse(asked.contains("POST /api/drills"), asked.toString());
        assertTrue(said.get(0).contains("it takes 2000000 bytes, and drills.room allows 1000000"), said.toString());
        assertTrue(said.get(1).contains("the store far, of which [stores] does not say"), said.toString());
    }

    @Test
    void ofTheFleetThoseAreDrilledThatWereNotProvedInTime() throws Exception {
        rows = ROW.formatted("\"2026-11-27T00:00:00Z\"", "proved");
        drill(Optional.of(Duration.ofDays(7)));
        drill(Optional.empty());
        assertEquals(List.of(), told);
        drill(Optional.of(Duration.ofDays(3)));
        rows = ROW.formatted("\"2026-11-27T00:00:00Z\"", "due");
        drill(Optional.empty());
        assertEquals(2, told.size());
    }

    @Test
    void anEngineThatIsNotInstalledHereSaysNothingOfTheCopies() throws Exception {
        engine = "mariadb";
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        assertEquals(List.of(), told);
        assertTrue(said.get(0).contains("mariadbd is not installed here"), said.toString());
    }

    @Test
    void oneThatFailedLastIsDrilledAgain() throws Exception {
        rows = ROW.formatted("\"2026-11-29T00:00:00Z\"", "failed");
        drill(Optional.of(Duration.ofDays(7)));
        assertEquals(1, told.size());
    }

    @Test
    void outsideItsHoursNoneBegins() throws Exception {
        hours = Optional.of(new Settings.Hours(LocalTime.of(22, 0), LocalTime.of(5, 0), ZoneOffset.UTC));
        drill(Optional.empty(), "sheds");
        assertEquals(List.of(), told);
        assertTrue(said.get(0).contains("22:00 to 05:00 in Z"), said.toString());
        hours = Optional.of(new Settings.Hours(LocalTime.of(11, 0), LocalTime.of(13, 0), ZoneOffset.UTC));
        drill(Optional.empty(), "sheds");
        assertEquals(1, told.size());
    }

    @Test
    void whatFirthDidNotHearIsToldTheNextTimeAndNotDoneAgain() throws Exception {
        refusal = 503;
        assertThrows(FirthLink.Refused.class, () -> drill(Optional.empty(), "sheds"));
        refusal = 200;
        asked.clear();
        rows = ROW.formatted("\"2026-11-30T11:00:00Z\"", "proved");
        drill(Optional.of(Duration.ofDays(7)));
        assertEquals(1, told.size());
        assertEquals(
                List.of("GET /api/drills"),
                asked.stream().filter(a -> !a.endsWith("/result")).toList());
    }

    @Test
    void aResultFirthWillNeverTakeStandsInNobodysWay() throws Exception {
        refusal = 404;
        drill(Optional.empty(), "sheds");
        assertTrue(said.get(0).contains("cannot be told"), said.toString());
        refusal = 200;
        drill(Optional.empty(), "sheds");
        assertEquals(1, told.size());
    }

    @Test
    void oneThatIsStoppedDoesNotFail() throws Exception {
        DrillHost host = drills();
        host.stop();
        assertThrows(
                InterruptedException.class,
                () -> host.drill(new DrillHost.Wanted(List.of("sheds"), Optional.empty(), 1)));
        assertEquals(List.of(), told);
        drill(Optional.of(Duration.ofDays(7)), "nothing");
        assertEquals(1, told.size(), "the next one does it again");
    }

    @Test
    void oneThatWasCutOffIsDoneAgainAndItsRemainsAreGone() throws Exception {
        Files.createDirectories(directory.resolve("state"));
        Files.writeString(
                directory.resolve("state/drill.json"),
                "{\"proposal\":{\"id\":\"drill-x\",\"database\":\"sheds\",\"moment\":\"" + MOMENT + "\"}}");
        Files.createDirectories(scratch.resolve("firth-drill/files"));
        Files.writeString(scratch.resolve("firth-drill/files/half"), "");
        drill(Optional.of(Duration.ofDays(7)), "nothing");
        assertEquals(1, told.size());
        assertTrue(asked.contains("POST /api/drills/drill-x/result"), asked.toString());
        assertEquals(List.of(), in(scratch));
    }

    @Test
    void aProgramLeftRunningOverTheDirectoryIsEnded() throws Exception {
        Path within = Files.createDirectories(scratch.resolve("firth-drill/files"));
        Process left = new ProcessBuilder("sh", "-c", "sleep 600; true", within.toString()).start();
        Remains.remove(scratch.resolve("firth-drill"));
        assertFalse(left.isAlive());
        assertEquals(List.of(), in(scratch));
    }
}
