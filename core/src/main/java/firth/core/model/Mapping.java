package firth.core.model;

import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;

/**
 * How a table with headers of its own is read as runs, backups, or both (docs/exchange.md, "Tables").
 *
 * @param of what a row is: {@code run}, {@code backup}, or {@code both}: a run, and the backup it made where it went well
 * @param columns from header to field; a field may name a unit after a colon, as in {@code bytes:MB}
 * @param words from field to what its values stand for
 * @param fixed fields that are the same in every row
 * @param zone of times that do not say theirs
 * @param pattern of times, as {@code java.time.format} has it; absent: RFC 3339
 */
public record Mapping(
        String id,
        String name,
        String of,
        Map<String, String> columns,
        Map<String, Map<String, String>> words,
        Map<String, String> fixed,
        Optional<ZoneId> zone,
        Optional<String> pattern)
        implements FleetRecord {

    public Mapping {
        columns = Map.copyOf(columns);
        words = Map.copyOf(words);
        fixed = Map.copyOf(fixed);
    }

    @Override
    public boolean isJudgedBy() {
        return false;
    }
}
