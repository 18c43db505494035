package firth.server;

import firth.demo.CreateDemo;
import firth.demo.SaltmarshFerries;
import firth.store.FactStore;
import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;

/** A server over the demo fleet, whose clock stands at the moment of its newest facts when it starts. */
public class DemoFleet implements QuarkusTestResourceLifecycleManager {

    public static final Instant NOW = Instant.parse("2026-11-20T09:12:00Z");

    /** By how much the server's clock is ahead; tests are loaded beside what starts it, and share no more than this. */
    private static final String AHEAD = "firth.test.ahead";

    private static final String FILLED = "firth.test.filled";

    /** What time it is by the server's clock. */
    public static Instant now() {
        return Instant.now().plus(Duration.parse(System.getProperty(AHEAD)));
    }

    @Override
    public Map<String, String> start() {
        try {
            Path file = Files.createTempDirectory("firth").resolve("firth.db");
            Files.copy(filled(), file);
            String moved = Duration.between(Instant.now(), NOW).toString();
            Path ahead = Files.writeString(file.resolveSibling("ahead"), moved);
            System.setProperty(AHEAD, moved);
            return Map.of("firth.data", file.toString(), "firth.clock.ahead", ahead.toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A file with the fleet, made once a run of the tests: each server that is started has a copy of its own. */
    private static Path filled() throws IOException {
        Path known = Path.of(System.getProperty(FILLED, ""));
        if (Files.isRegularFile(known)) {
            return known;
        }
        Path made = Files.createTempDirectory("firth").resolve("filled.db");
        try (FactStore store = FactStore.open(made)) {
            CreateDemo.fill(store, NOW, SaltmarshFerries.SEED);
        }
        if (Files.exists(made.resolveSibling("filled.db-wal"))) {
            throw new IllegalStateException("what was written last is not in " + made);
        }
        System.setProperty(FILLED, made.toString());
        return made;
    }

    @Override
    public void stop() {}
}
