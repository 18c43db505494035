package firth.exchange;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Catalog;
import firth.core.history.HappenedAt;
import firth.core.model.Backup;
import firth.core.model.FleetRecord;
import firth.core.model.Run;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.zip.GZIPInputStream;

/**
 * Reads fleet files (docs/exchange.md): one JSON record a line, plain or gzip, into a catalog. A line that cannot be
 * taken is reported and leaves the others unharmed.
 */
public final class FleetFileReader {

    private static final int VERSION = 1;

    private final ImportReport report;
    private final Catalog catalog;
    private final Set<String> warned = new HashSet<>();
    /** Known to whoever reads lines, and once they all are, to whoever takes them. */
    private volatile boolean recognised;

    FleetFileReader(String name, Catalog catalog) {
        this.report = new ImportReport(name);
        this.catalog = catalog;
    }

    /**
     * Reads a file to its end.
     *
     * @param name what to call it in the report
     * @throws NotAFleetFile where it cannot be a fleet file at all
     * @throws IOException where reading fails
     */
    public static ImportReport read(InputStream in, String name, Catalog catalog) throws IOException {
        FleetFileReader reader = new FleetFileReader(name, catalog);
        reader.readAll(plain(in));
        return reader.report;
    }

    private static InputStream plain(InputStream in) throws IOException {
        BufferedInputStream buffered = new BufferedInputStream(in, 1 << 16);
        buffered.mark(3);
        byte[] head = buffered.readNBytes(3);
        boolean marked =
                head.length == 3 && (head[0] & 0xff) == 0xef && (head[1] & 0xff) == 0xbb && (head[2] & 0xff) == 0xbf;
        if (!marked) {
            buffered.reset();
        }
        boolean packed = head.length >= 2 && (head[0] & 0xff) == 0x1f && (head[1] & 0xff) == 0x8b;
        return packed ? new GZIPInputStream(buffered, 1 << 16) : buffered;
    }

    /** So many lines are read at once where there are many. */
    private static final int BATCH = 256;

    /** What is odd about a field of a line. */
    private record Odd(String field, String text) {}

    /** What a line says; done in the order of lines. */
    private interface Acting {
        void act();
    }

    /** A line that was read and is still to be taken. */
    private record Parsed(long number, String text, List<Odd> odd, Acting acting) {}

    private void readAll(InputStream in) throws IOException {
        Lines lines = new Lines(in);
        long[] number = {0};
        List<Parsed> batch = parse(lines, number);
        batch.forEach(this::take);
        if (batch.size() == BATCH) {
            try (ReadAhead<Parsed> ahead = new ReadAhead<>(() -> parse(lines, number))) {
                for (batch = ahead.next(); !batch.isEmpty(); batch = ahead.next()) {
                    batch.forEach(this::take);
                }
            }
        }
        if (report.lines() == 0) {
            throw new NotAFleetFile(report.file() + " is empty; a fleet file has one JSON record a line.");
        }
        if (!recognised) {
            throw new NotAFleetFile(report.file()
                    + " is not a fleet file: none of its lines is a JSON record with a type; nothing was taken.");
        }
    }

    /** The next lines that hold something; fewer than a batch where the file ends. */
    private List<Parsed> parse(Lines lines, long[] number) throws IOException {
        List<Parsed> out = new ArrayList<>(BATCH);
        while (out.size() < BATCH && lines.next()) {
            number[0]++;
            if (!lines.blank()) {
                if (!recognised && lines.hasZeroByte()) {
                    throw new NotAFleetFile(
                            report.file()
                                    + " is not a fleet file: it contains binary data, not one JSON record a line; nothing was taken.");
                }
                out.add(parsed(lines, number[0]));
            }
        }
        return out;
    }

    private void take(Parsed parsed) {
        report.line();
        parsed.odd.forEach(odd -> warn(parsed.number, odd.field, odd.text));
        try {
            parsed.acting.act();
        } catch (BadField e) {
            report.reject(parsed.number, e.field(), e.reason(), parsed.text);
        }
    }

    private Parsed parsed(Lines lines, long number) {
        if (lines.tooLong()) {
            return bad(number, "", "the line is longer than " + (Lines.LONGEST >> 20) + " MiB; split it", "");
        }
        try {
            JsonNode node = Json.MAPPER.readTree(lines.bytes(), 0, lines.length());
            if (!(node instanceof ObjectNode object)) {
                return bad(number, "", "the line is not a JSON object", text(lines));
            }
            return parsed(object, number, text(lines));
        } catch (JsonProcessingException e) {
            return bad(number, "", flaw(lines, e), text(lines));
        } catch (IOException e) {
            return bad(number, "", "the line cannot be read as JSON", text(lines));
        }
    }

    private Parsed bad(long number, String field, String reason, String text) {
        return bad(number, new BadField(field, reason), text, List.of());
    }

    private static Parsed bad(long number, BadField flaw, String text, List<Odd> odd) {
        return new Parsed(number, text, odd, () -> {
            throw flaw;
        });
    }

    private Parsed parsed(ObjectNode object, long number, String text) {
        List<Odd> odd = new ArrayList<>(0);
        Fields fields = new Fields(object, "", (field, what) -> odd.add(new Odd(field, what)));
        try {
            return new Parsed(number, text, odd, acting(object, fields, number));
        } catch (BadField e) {
            return bad(number, e, text, odd);
        }
    }

    private static String text(Lines lines) {
        return new String(lines.bytes(), 0, lines.length(), StandardCharsets.UTF_8).strip();
    }

    /** Something that gives records, or says which of their fields is bad. */
    interface Giving {
        List<ObjectNode> records();
    }

    /** Takes what one line says that is not of JSON. */
    void take(long number, String text, Giving giving) {
        report.line();
        try {
            for (ObjectNode record : giving.records()) {
                Parsed parsed = parsed(record, number, text);
                parsed.odd.forEach(odd -> warn(number, odd.field, odd.text));
                parsed.acting.act();
            }
        } catch (BadField e) {
            report.reject(number, e.field(), e.reason(), text);
        }
    }

    ImportReport report() {
        return report;
    }

    private static String flaw(Lines lines, JsonProcessingException e) {
        try {
            StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(lines.bytes(), 0, lines.length()));
        } catch (CharacterCodingException notUtf8) {
            return "the line is not valid UTF-8; save the file as UTF-8";
        }
        if (!lines.terminated()) {
            return "the last line breaks off; the file was cut short, send it again whole";
        }
        int column = e.getLocation() == null ? 0 : e.getLocation().getColumnNr();
        return "the line is not JSON" + (column > 0 ? " (character " + column + ")" : "");
    }

    /** Once for the whole file. */
    private void warn(long number, String field, String text) {
        if (warned.add(field + " " + text)) {
            report.warn(number, field, text);
        }
    }

    private Acting acting(ObjectNode object, Fields fields, long number) {
        String type = fields.text("type").orElseThrow(() -> fields.bad("type", "is missing"));
        recognised = true;
        if (type.equals("firth")) {
            version(fields);
            return () -> {};
        }
        if (type.equals("run")) {
            Run run = HistoryRecords.run(fields);
            return () -> {
                count(catalog.put(run), number);
                HappenedAt.of(run, report::happened);
            };
        }
        if (type.equals("backup")) {
            Backup backup = HistoryRecords.backup(fields);
            return () -> {
                count(catalog.put(backup), number);
                HappenedAt.of(backup, report::happened);
            };
        }
        if (FleetRecords.reads(type)) {
            FleetRecord read = FleetRecords.read(type, fields);
            String document = Json.canonical(object);
            return () -> {
                report.count(catalog.put(read, document));
                HappenedAt.of(read, report::happened);
            };
        }
        throw fields.bad("type", "is unknown: " + type);
    }

    private void count(Catalog.Change change, long number) {
        report.count(change);
        if (change == Catalog.Change.TURNED) {
            warn(
                    number,
                    "id",
                    "was known with another kind or database; the newer line counts, do two facts share an id?");
        }
    }

    private void version(Fields fields) {
        int version = fields.count("version").orElse(VERSION);
        if (version > VERSION) {
            throw new NotAFleetFile(report.file() + " is written in version " + version
                    + " of the format; this Firth reads version " + VERSION + ". Nothing was taken.");
        }
    }

    /** Reads one record that was kept as text after it had been read from a fleet file. */
    public static FleetRecord recordOf(String document) {
        ObjectNode object = Json.object(document);
        return FleetRecords.read(object.path("type").asText(), new Fields(object, "", (field, text) -> {}));
    }
}
