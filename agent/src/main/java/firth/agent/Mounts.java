package firth.agent;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Where other file systems are mounted. */
final class Mounts {

    private static final Path TABLE = Path.of("/proc/self/mountinfo");
    private static final int WHERE = 4;
    private static final Pattern OCTAL = Pattern.compile("\\\\([0-7]{3})");

    private Mounts() {}

    /** The places strictly below a directory at which something is mounted; none where the system does not tell. */
    static List<Path> below(Path root) throws IOException {
        return Files.isReadable(TABLE) ? below(root, Files.readAllLines(TABLE)) : List.of();
    }

    static List<Path> below(Path root, List<String> table) {
        List<Path> out = new ArrayList<>();
        for (String line : table) {
            String[] fields = line.split(" ");
            if (fields.length > WHERE) {
                Path where = Path.of(OCTAL.matcher(fields[WHERE]).replaceAll(Mounts::character));
                if (where.startsWith(root) && !where.equals(root)) {
                    out.add(where);
                }
            }
        }
        return out;
    }

    private static String character(java.util.regex.MatchResult code) {
        return Matcher.quoteReplacement(String.valueOf((char) Integer.parseInt(code.group(1), 8)));
    }
}
