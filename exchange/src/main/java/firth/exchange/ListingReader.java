package firth.exchange;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import firth.core.stocktake.Listed;
import java.io.BufferedInputStream;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Function;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Reads what a store lists (docs/stocktake.md): NDJSON with an object a file, or CSV with a header; of both the fields path, size,
 * time, checksum, lock and lockedUntil. A line that cannot be read is reported and leaves the others unharmed.
 */
public final class ListingReader {

    /** So many lines that could not be read are named. */
    private static final int NAMED = 20;

    private final List<Listed> files = new ArrayList<>();
    private final List<String> flaws = new ArrayList<>();
    private int bad;

    private ListingReader() {}

    /**
     * What was read.
     *
     * @param flaws the first lines that could not be, each with its number and field
     * @param bad how many could not be
     */
    public record Listing(List<Listed> files, List<String> flaws, int bad) {}

    /** Reads to the end; what it is, is told by its first character. */
    public static Listing read(InputStream from) throws IOException {
        BufferedInputStream in = new BufferedInputStream(from, 1 << 16);
        in.mark(1);
        int first = in.read();
        in.reset();
        ListingReader reader = new ListingReader();
        if (first == '{') {
            reader.lines(in);
        } else if (first >= 0) {
            reader.table(in);
        }
        return new Listing(reader.files, reader.flaws, reader.bad);
    }

    private void lines(InputStream in) throws IOException {
        BufferedReader lines = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8));
        long number = 0;
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
            number++;
            if (!line.isBlank()) {
                try {
                    JsonNode node = Json.MAPPER.readTree(line);
                    take(
                            number,
                            field -> node.hasNonNull(field) ? node.get(field).asText() : "");
                } catch (JsonProcessingException e) {
                    flaw(number, "is not JSON");
                }
            }
        }
    }

    private void table(InputStream in) throws IOException {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setHeader()
                .setSkipHeaderRecord(true)
                .setIgnoreEmptyLines(true)
                .get();
        try (CSVParser rows = CSVParser.parse(new InputStreamReader(in, StandardCharsets.UTF_8), format)) {
            Map<String, Integer> header = rows.getHeaderMap();
            if (!header.containsKey("path")) {
                flaw(
                        1,
                        "names no column path; the first line names the columns path, size, time, checksum, lock, lockedUntil");
                return;
            }
            for (CSVRecord row : rows) {
                take(
                        row.getRecordNumber() + 1,
                        field -> row.isMapped(field) && row.isSet(field)
                                ? row.get(field).strip()
                                : "");
            }
        }
    }

    private void take(long number, Function<String, String> fields) {
        String path = fields.apply("path");
        if (path.isBlank()) {
            flaw(number, "path is missing");
            return;
        }
        String size = fields.apply("size");
        if (!size.isEmpty() && !size.matches("\\d{1,18}")) {
            flaw(number, "size is not a whole number of bytes: " + size);
            return;
        }
        Optional<Instant> time = Texts.instant(fields.apply("time"));
        if (time.isEmpty() && !fields.apply("time").isEmpty()) {
            flaw(number, "time is not an instant such as 2026-11-23T09:12:00Z: " + fields.apply("time"));
            return;
        }
        Optional<Instant> locked = Texts.instant(fields.apply("lockedUntil"));
        if (locked.isEmpty() && !fields.apply("lockedUntil").isEmpty()) {
            flaw(number, "lockedUntil is not an instant such as 2026-11-23T09:12:00Z: " + fields.apply("lockedUntil"));
            return;
        }
        Optional<Listed.Lock> lock = lock(fields.apply("lock"), locked.isPresent());
        if (lock.isEmpty()) {
            flaw(number, "lock is none of none, until, immutable, read-only: " + fields.apply("lock"));
            return;
        }
        files.add(new Listed(
                path,
                size.isEmpty() ? OptionalLong.empty() : OptionalLong.of(Long.parseLong(size)),
                time,
                Optional.of(fields.apply("checksum")).filter(c -> !c.isEmpty()),
                lock.get(),
                locked));
    }

    private static Optional<Listed.Lock> lock(String word, boolean ends) {
        return switch (word) {
            case "" -> Optional.of(ends ? Listed.Lock.UNTIL : Listed.Lock.UNKNOWN);
            case "none" -> Optional.of(Listed.Lock.NONE);
            case "until" -> Optional.of(ends ? Listed.Lock.UNTIL : Listed.Lock.NONE);
            case "immutable", "read-only" -> Optional.of(Listed.Lock.OPEN);
            default -> Optional.empty();
        };
    }

    private void flaw(long number, String what) {
        bad++;
        if (flaws.size() < NAMED) {
            flaws.add("line " + number + ": " + what);
        }
    }
}
