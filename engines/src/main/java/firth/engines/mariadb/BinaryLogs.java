package firth.engines.mariadb;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** The binary logs a server has written to a directory. */
public final class BinaryLogs {

    private BinaryLogs() {}

    /** When the latest transaction in them was made, by the second; empty where there is none. */
    public static Optional<Instant> lastCommit(Path directory, String base) throws IOException {
        List<Path> logs;
        try (Stream<Path> all = Files.list(directory)) {
            logs = all.filter(p -> p.getFileName().toString().matches(Pattern.quote(base) + "\\.\\d{6,}"))
                    .toList();
        }
        Optional<Instant> last = Optional.empty();
        for (Path log : logs) {
            try (InputStream in = Files.newInputStream(log)) {
                last = Stream.concat(last.stream(), BinaryLog.read(in).lastCommit().stream())
                        .max(Comparator.naturalOrder());
            }
        }
        return last;
    }
}
