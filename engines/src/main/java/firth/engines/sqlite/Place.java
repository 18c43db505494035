package firth.engines.sqlite;

import firth.engines.Keys;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What lies beside a copy of a database, or of its write-ahead log, that was kept (docs/engines.md, "SQLite"): where it stands among the
 * others.
 *
 * @param of the name of the database
 * @param number the boundary a copy of the database is of, or up to which a log goes: it begins at the one before
 * @param from when a log begins; empty with a copy of the database
 * @param until up to when everything that was committed is in it
 * @param page the size of a page
 * @param seen when transactions were seen in the log, and how many frames it had then, in this order
 */
record Place(String of, long number, Optional<Instant> from, Instant until, int page, List<Seen> seen) {

    static final String FILE = "place";
    static final String LOG = "wal";

    Place {
        seen = List.copyOf(seen);
    }

    /** Up to {@code frames} it went at a moment. */
    record Seen(Instant at, long frames) {}

    boolean isLog() {
        return from.isPresent();
    }

    /** Whether a directory holds such a copy, or a piece of a log. */
    static boolean isIn(Path directory) {
        return Packed.find(directory, FILE).isPresent()
                && (Packed.find(directory, LOG).isPresent() || holdsDatabase(directory));
    }

    private static boolean holdsDatabase(Path directory) {
        String[] names = directory.toFile().list((d, name) -> name.contains(".db"));
        return names != null && names.length > 0;
    }

    String text() {
        StringBuilder out = new StringBuilder();
        out.append("of=").append(of).append("\nnumber=").append(number).append('\n');
        from.ifPresent(f -> out.append("from=").append(f).append('\n'));
        out.append("until=").append(until).append("\npage=").append(page).append('\n');
        seen.forEach(s ->
                out.append(s.at.toEpochMilli()).append(' ').append(s.frames).append('\n'));
        return out.toString();
    }

    /** @throws IOException where a directory has none that can be understood; says why in a clause */
    static Place read(Path directory, Keys keys) throws IOException {
        Path file = Packed.find(directory, FILE).orElseThrow(() -> new IOException("has no file " + FILE));
        try (InputStream in = Packed.open(file, keys)) {
            return parse(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        }
    }

    private static Place parse(String text) throws IOException {
        Map<String, String> fields = new HashMap<>();
        List<Seen> seen = new ArrayList<>();
        try {
            for (String line : text.lines().toList()) {
                int at = line.indexOf('=');
                if (at > 0) {
                    fields.put(line.substring(0, at), line.substring(at + 1));
                } else {
                    String[] words = line.split(" ", 2);
                    seen.add(new Seen(Instant.ofEpochMilli(Long.parseLong(words[0])), Long.parseLong(words[1])));
                }
            }
            return new Place(
                    Optional.ofNullable(fields.get("of"))
                            .orElseThrow(() -> new IOException("does not say what it is of")),
                    Long.parseLong(fields.getOrDefault("number", "")),
                    Optional.ofNullable(fields.get("from")).map(Instant::parse),
                    Instant.parse(fields.getOrDefault("until", "")),
                    Integer.parseInt(fields.getOrDefault("page", "")),
                    seen);
        } catch (NumberFormatException | DateTimeException | ArrayIndexOutOfBoundsException e) {
            throw new IOException("has a file " + FILE + " that cannot be understood: " + e.getMessage(), e);
        }
    }
}
