package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import firth.agent.Storage;
import firth.agent.StorageContract;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Properties;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The made-up store does for its agent what a real one does. */
class HollowFilesTest extends StorageContract {

    @TempDir
    Path laid;

    @Override
    protected Storage storage(Path home) throws IOException {
        return StoreAgent.files(home);
    }

    @Override
    protected boolean lock(Path home, String path) throws IOException {
        Properties locks = new FilesOfStore(home).locks();
        locks.setProperty(path, Instant.now().plusSeconds(900).toString());
        new FilesOfStore(home).lock(locks);
        return true;
    }

    @Override
    protected void unlock(Path home) throws IOException {
        new FilesOfStore(home).lock(new Properties());
    }

    @Test
    void laysFilesAsLargeAsTheySayAndNeverOutside() throws Exception {
        FilesOfStore files = new FilesOfStore(laid);
        files.lay("/near/d/1", 7_340_032_000L, Instant.EPOCH);
        assertEquals(7_340_032_000L, Files.size(files.at("/near/d/1")));
        assertThrows(IOException.class, () -> files.at("/../x"));
    }
}
