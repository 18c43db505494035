package firth.runner.drills;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;

/** What a server of a drill wrote of itself. */
record ServerLog(Path file) {

    private static final int SHOWN = 6;

    private List<String> lines() {
        try {
            return new String(Files.readAllBytes(file), StandardCharsets.UTF_8)
                    .lines()
                    .toList();
        } catch (IOException none) {
            return List.of();
        }
    }

    /** What its last lines say that match, by their first group. */
    Optional<String> last(Pattern complaint) {
        return lines().stream()
                .flatMap(l -> complaint.matcher(l).results())
                .map((MatchResult found) -> found.group(1))
                .reduce((one, other) -> other);
    }

    /** How many of its lines hold it. */
    long count(Pattern what) {
        return lines().stream().filter(l -> what.matcher(l).find()).count();
    }

    /** Its last lines. */
    String tail() {
        List<String> all = lines();
        return String.join("\n", all.subList(Math.max(0, all.size() - SHOWN), all.size()));
    }
}
