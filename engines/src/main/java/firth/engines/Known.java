package firth.engines;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What was read of files before, by their path, size and moment of change: a file that has not changed is not read again. What is no longer
 * asked for is forgotten.
 */
public final class Known {

    private static final String FIRST_LINE = "firth observed 1";
    private static final char BETWEEN = '\t';

    private final Map<String, String> before;
    private final Map<String, String> now = new HashMap<>();

    private Known(Map<String, String> before) {
        this.before = before;
    }

    public static Known nothing() {
        return new Known(Map.of());
    }

    /** What was kept in a file; nothing where there is none, or it is of another version. */
    public static Known of(Path file) throws IOException {
        Map<String, String> before = new HashMap<>();
        if (Files.isRegularFile(file)) {
            try (BufferedReader in = Files.newBufferedReader(file)) {
                if (FIRST_LINE.equals(in.readLine())) {
                    for (String line = in.readLine(); line != null; line = in.readLine()) {
                        int at = line.indexOf(BETWEEN);
                        if (at > 0) {
                            before.put(line.substring(0, at), line.substring(at + 1));
                        }
                    }
                }
            }
        }
        return new Known(before);
    }

    /** Keeps what is known now. The file is whole at any moment. */
    public void keep(Path file) throws IOException {
        Path beside = file.resolveSibling(file.getFileName() + ".new");
        Files.createDirectories(file.toAbsolutePath().getParent());
        try (BufferedWriter out = Files.newBufferedWriter(beside, StandardCharsets.UTF_8)) {
            out.write(FIRST_LINE);
            out.newLine();
            for (Map.Entry<String, String> e : now.entrySet()) {
                out.write(e.getKey());
                out.write(BETWEEN);
                out.write(e.getValue());
                out.newLine();
            }
        }
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    /** By what a file is known as long as it does not change. */
    public static String key(Path file, BasicFileAttributes of) {
        return (file.toAbsolutePath() + "|" + of.size() + "|"
                        + of.lastModifiedTime().toMillis())
                .replace(BETWEEN, '?')
                .replace('\n', '?');
    }

    public Optional<String> get(String key) {
        String known = before.get(key);
        if (known != null) {
            now.put(key, known);
        }
        return Optional.ofNullable(known);
    }

    /** @param facts on one line */
    public void put(String key, String facts) {
        now.put(key, facts);
    }
}
