package firth.server.live;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.ObjectMapper;
import firth.server.platform.NotFound;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class LiveFleetTest {

    @TempDir
    private Path directory;

    private LiveFleet fleet() throws Exception {
        Files.createDirectories(directory.resolve("asked"));
        return new LiveFleet(Optional.of(directory.toString()), new ObjectMapper());
    }

    private void told(String state) throws Exception {
        Files.writeString(directory.resolve("state.json"), state);
    }

    @Test
    void nothingIsThereWhereNoneWasStarted() {
        LiveFleet none = new LiveFleet(Optional.empty(), new ObjectMapper());
        assertThrows(NotFound.class, none::view);
        assertThrows(NotFound.class, () -> none.ask("tap", true));
    }

    @Test
    void itIsEmptyWhileItIsBeingSetUp() throws Exception {
        assertEquals(new LiveView(List.of(), List.of()), fleet().view());
    }

    @Test
    void aFaultIsAskedForAndShownAsAskedUntilItIsDone() throws Exception {
        LiveFleet fleet = fleet();
        told("{\"faults\":[{\"id\":\"tap\",\"title\":\"Close the tap\",\"shows\":\"No water.\",\"once\":false,"
                + "\"broken\":true,\"at\":\"2026-11-30T10:00:00Z\",\"said\":\"\"}],"
                + "\"truth\":[{\"database\":\"harbour\",\"rows\":7,\"committed\":null,\"said\":\"down\"}]}");
        LiveView.LiveFault tap = fleet.view().faults().get(0);
        assertTrue(tap.broken());
        assertFalse(tap.asked());
        assertEquals(Instant.parse("2026-11-30T10:00:00Z"), tap.at());
        assertEquals(7, fleet.view().truth().get(0).rows());
        assertNull(fleet.view().truth().get(0).committed());
        fleet.ask("tap", false);
        assertEquals("false", Files.readString(directory.resolve("asked/tap")));
        assertTrue(fleet.view().faults().get(0).asked());
    }

    @Test
    void whatIsNotListedIsNotAskedFor() throws Exception {
        LiveFleet fleet = fleet();
        told("{\"faults\":[]}");
        assertThrows(NotFound.class, () -> fleet.ask("../../elsewhere", true));
        assertFalse(Files.exists(directory.resolve("elsewhere")));
    }
}
