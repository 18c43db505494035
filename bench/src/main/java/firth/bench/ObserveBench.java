package firth.bench;

import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.Observer;
import firth.engines.postgres.PostgresFiles;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/** Reads an archive of made-up write-ahead log through, beside reading its bytes alone, and again when nothing is new. */
public final class ObserveBench {

    private static final int SEGMENTS = 10_000;

    private ObserveBench() {}

    public static void main(String[] args) throws IOException {
        int count = args.length > 0 ? Integer.parseInt(args[0]) : SEGMENTS;
        measure("1,000 records each, the rest empty", count, 1_000);
        measure("full of records", Math.max(1, count / 100), 100_000);
    }

    private static void measure(String what, int count, int records) throws IOException {
        Path directory = Files.createTempDirectory("firth-observe");
        try {
            Path archive = Files.createDirectory(directory.resolve("archive")).toRealPath();
            new MadeSegments(records).write(archive, count);
            double bytes = (double) count * MadeSegments.SEGMENT;
            bare(archive);
            long t0 = System.nanoTime();
            bare(archive);
            long t1 = System.nanoTime();
            Known known = Known.nothing();
            Observation first = look(archive, known);
            known.keep(directory.resolve("known"));
            long t2 = System.nanoTime();
            Observation second = look(archive, Known.of(directory.resolve("known")));
            long t3 = System.nanoTime();
            if (!first.unread().isEmpty() || !first.databases().equals(second.databases())) {
                throw new IllegalStateException("not read as it was written: " + first.unread());
            }
            System.out.printf(
                    Locale.ROOT,
                    "%,d segments of 16 MB, %s: their bytes alone %.2f GB/s; read through %.2f GB/s, %.2f of that; again with nothing new %.2f s%n",
                    count,
                    what,
                    bytes / (t1 - t0),
                    bytes / (t2 - t1),
                    (double) (t1 - t0) / (t2 - t1),
                    (t3 - t2) / 1e9);
        } finally {
            try (Stream<Path> all = Files.walk(directory)) {
                all.sorted(Comparator.reverseOrder()).forEach(p -> p.toFile().delete());
            }
        }
    }

    private static Observation look(Path archive, Known known) throws IOException {
        return new Observer(List.of(new PostgresFiles()))
                .observe(List.of(new Root("n1", archive)), known, false, p -> {});
    }

    private static void bare(Path archive) throws IOException {
        byte[] chunk = new byte[1 << 20];
        try (Stream<Path> all = Files.list(archive)) {
            for (Path p : (Iterable<Path>) all.sorted()::iterator) {
                try (InputStream in = Files.newInputStream(p)) {
                    while (in.read(chunk) >= 0) {
                        // Only the reading counts.
                    }
                }
            }
        }
    }
}
