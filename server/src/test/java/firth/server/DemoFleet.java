package firth.server;

import firth.demo.CreateDemo;
import firth.demo.SaltmarshFerries;
import firth.store.FactStore;
import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Map;

/** A server over the demo fleet as of a fixed moment. */
public class DemoFleet implements QuarkusTestResourceLifecycleManager {

    public static final Instant NOW = Instant.parse("2026-11-20T09:12:00Z");

    @Override
    public Map<String, String> start() {
        try {
            Path file = Files.createTempDirectory("firth").resolve("firth.db");
            CreateDemo.fill(FactStore.open(file), NOW, SaltmarshFerries.SEED);
            return Map.of("firth.data", file.toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void stop() {}
}
