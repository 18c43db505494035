package firth.server;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.exchange.FleetFileReader;
import firth.server.platform.FactsHolder;
import firth.store.FactStore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Facts as a program tells them. */
public final class ToldFacts {

    private ToldFacts() {}

    private record Told(Optional<Instant> newestFact) implements FactStore.Delivery {
        @Override
        public String source() {
            return "north-1";
        }

        @Override
        public boolean isProgram() {
            return true;
        }
    }

    /** Tells lines of the exchange format, every one of which is taken. */
    public static void tell(FactsHolder facts, String lines, Instant at) throws IOException {
        var report = facts.store()
                .write(
                        c -> FleetFileReader.read(
                                new ByteArrayInputStream(lines.getBytes(StandardCharsets.UTF_8)), "test", c),
                        r -> new Told(r.newestFact()),
                        at);
        assertEquals(List.of(), report.rejected());
    }
}
