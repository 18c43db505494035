package firth.demo;

import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.store.FactStore;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;

/** Fills a new Firth database with the demo fleet as of the moment it is run: {@code CreateDemo FILE}. */
public final class CreateDemo {

    private CreateDemo() {}

    public static void main(String[] args) throws IOException {
        if (args.length != 1) {
            System.err.println("usage: CreateDemo FILE");
            System.exit(2);
        }
        try (FactStore store = FactStore.open(Path.of(args[0]))) {
            long lines = fill(store, Instant.now(), SaltmarshFerries.SEED);
            System.out.println("Saltmarsh Ferries: " + lines + " facts");
        }
    }

    /** Takes the whole fleet in, and says how many lines that were. */
    public static long fill(FactStore store, Instant now, long seed) throws IOException {
        SaltmarshFerries ferries = new SaltmarshFerries(now, seed);
        long lines = 0;
        for (SaltmarshFerries.Part part : SaltmarshFerries.Part.values()) {
            ByteArrayOutputStream file = new ByteArrayOutputStream();
            ferries.write(part, file);
            ImportReport report = store.write(
                    catalog ->
                            FleetFileReader.read(new ByteArrayInputStream(file.toByteArray()), part.source(), catalog),
                    r -> new Delivered(part.source(), r.newestFact()),
                    now);
            if (!report.rejected().isEmpty()) {
                throw new IllegalStateException(
                        "the demo fleet holds a bad line: " + report.rejected().get(0));
            }
            lines += report.lines();
        }
        return lines;
    }

    private record Delivered(String source, Optional<Instant> newestFact) implements FactStore.Delivery {}
}
