package firth.server.history;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Backup;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** History says which backups on record restore nothing, and why. */
class UncountedBackupsTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00Z");
    private static final Instant OPENS = NOW.plusSeconds(3600);

    private static final String DATABASE = """
            {"type":"database","id":"d","name":"d","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z","streams":["east"],
             "lineages":[{"id":"1"},{"id":"2","parent":"1","forkPos":{"east":5},"openedAt":"%s"}]}
            """.formatted(OPENS).replace("\n", " ");

    private static String why(String lineage, String stream, Instant asOf) throws IOException {
        String log = """
                {"type":"backup","id":"b","database":"d","kind":"log","lineage":"%s","stream":"%s","from":0,"to":1,
                 "fromTime":"2026-11-20T08:00:00Z","toTime":"2026-11-20T08:10:00Z","copies":[]}
                """.formatted(lineage, stream).replace("\n", " ");
        MemoryCatalog catalog = new MemoryCatalog();
        byte[] file = (DATABASE + "\n" + log + "\n").getBytes(StandardCharsets.UTF_8);
        assertEquals(
                2,
                FleetFileReader.read(new ByteArrayInputStream(file), "f", catalog)
                        .added());
        return UncountedBackups.why(
                backup(catalog), Optional.of(catalog.databases().get(0).database()), asOf);
    }

    private static Backup backup(MemoryCatalog catalog) {
        return catalog.backups().get("d").get(0);
    }

    @Test
    void whatNothingHasAPlaceForIsSaidToCountForNothing() throws IOException {
        assertEquals("", why("1", "east", NOW));
        assertTrue(why("2", "east", NOW).contains("lineage 2 had not opened"));
        assertEquals("", why("2", "east", OPENS), "it opens at that moment");
        assertTrue(why("9", "east", NOW).contains("nobody has told of its lineage 9"));
        assertTrue(why("1", "west", NOW).contains("stream west counts for nothing"));
    }

    @Test
    void neitherDoesWhatIsOfADatabaseNobodyEnrolled() throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        byte[] file =
                "{\"type\":\"backup\",\"id\":\"b\",\"database\":\"d\",\"kind\":\"full\",\"ended\":\"2026-11-20T08:00:00Z\",\"copies\":[]}\n"
                        .getBytes(StandardCharsets.UTF_8);
        FleetFileReader.read(new ByteArrayInputStream(file), "f", catalog);
        assertTrue(UncountedBackups.why(backup(catalog), Optional.empty(), NOW).contains("not enrolled"));
    }
}
