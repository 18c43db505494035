package firth.server.people;

import io.quarkus.test.junit.QuarkusTestProfile;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.util.Map;

/** A server nobody has signed in at yet, with no facts and nobody made up. */
public class OwnFacts implements QuarkusTestProfile {

    @Override
    public Map<String, String> getConfigOverrides() {
        try {
            return Map.of(
                    "firth.demo",
                    "false",
                    "firth.data",
                    Files.createTempDirectory("firth").resolve("firth.db").toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
