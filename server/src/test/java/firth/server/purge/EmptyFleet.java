package firth.server.purge;

import io.quarkus.test.junit.QuarkusTestProfile;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.util.Map;

/** A server of its own with the made-up people and no facts. */
public class EmptyFleet implements QuarkusTestProfile {

    @Override
    public Map<String, String> getConfigOverrides() {
        try {
            return Map.of(
                    "firth.data",
                    Files.createTempDirectory("firth").resolve("firth.db").toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
