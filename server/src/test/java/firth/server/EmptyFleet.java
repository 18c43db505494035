package firth.server;

import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.util.Map;

/** A server that knows nothing yet; its clock is that of {@link DemoFleet}. */
public class EmptyFleet implements QuarkusTestResourceLifecycleManager {

    @Override
    public Map<String, String> start() {
        try {
            return Map.of(
                    "firth.data",
                    Files.createTempDirectory("firth").resolve("firth.db").toString(),
                    "firth.demo",
                    "true");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void stop() {}
}
