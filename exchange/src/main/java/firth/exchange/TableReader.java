package firth.exchange;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Catalog;
import firth.core.model.Mapping;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Reads tables of runs or backups (docs/exchange.md, "Tables"): RFC 4180, parted by comma, semicolon or tab, UTF-8, the
 * first row names the columns. A row that cannot be taken is reported and leaves the others unharmed.
 */
public final class TableReader {

    private TableReader() {}

    /** What became of the rows, and the first of the records they were read as. */
    public record Read(ImportReport report, List<String> first) {}

    /**
     * Reads a table.
     *
     * @param most how many rows to read at most
     * @param shown of how many rows to give back the records as text
     * @throws NotAFleetFile where it has no header, or one of the mapping's columns is not there
     */
    public static Read read(InputStream in, String name, Mapping mapping, Catalog catalog, long most, int shown)
            throws IOException {
        BufferedReader reader = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8.newDecoder()));
        try {
            String header = header(reader, name);
            CSVFormat format = CSVFormat.RFC4180
                    .builder()
                    .setDelimiter(delimiter(header))
                    .setIgnoreEmptyLines(true)
                    .get();
            FleetFileReader records = new FleetFileReader(name, catalog);
            List<String> columns = columns(header, format);
            for (String column : mapping.columns().keySet()) {
                if (!columns.contains(column)) {
                    throw new NotAFleetFile(name + " has no column " + column
                            + ", which the mapping wants; its columns are " + String.join(", ", columns)
                            + ". Nothing was taken.");
                }
            }
            List<String> first = new ArrayList<>();
            try (CSVParser parser = CSVParser.parse(reader, format)) {
                rows(parser, format, columns, new TableRow(mapping), records, most, shown, first);
            }
            records.report().header(header);
            return new Read(records.report(), first);
        } catch (CharacterCodingException e) {
            throw new NotAFleetFile(name + " is not valid UTF-8; save it as UTF-8. Nothing was taken.");
        } catch (CSVException e) {
            throw new NotAFleetFile(
                    name + " is not a table as RFC 4180 has it: " + e.getMessage() + ". Nothing was taken.");
        }
    }

    private static void rows(
            CSVParser parser,
            CSVFormat format,
            List<String> columns,
            TableRow row,
            FleetFileReader records,
            long most,
            int shown,
            List<String> first)
            throws IOException {
        try {
            Iterator<CSVRecord> rows = parser.iterator();
            long[] read = {0};
            for (long n = 0; n < most && rows.hasNext(); n++) {
                CSVRecord next = rows.next();
                records.take(line(parser, next), text(next, format), () -> {
                    List<ObjectNode> objects = row.records(cells(next, columns));
                    if (read[0]++ < shown) {
                        objects.forEach(o -> first.add(Json.canonical(o)));
                    }
                    return objects;
                });
            }
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
    }

    private static String header(BufferedReader reader, String name) throws IOException {
        String header = reader.readLine();
        while (header != null && header.isBlank()) {
            header = reader.readLine();
        }
        if (header == null) {
            throw new NotAFleetFile(name + " is empty; a table begins with a row that names its columns.");
        }
        return header.startsWith("\ufeff") ? header.substring(1) : header;
    }

    /** The one of the usual marks that parts the header into most columns. */
    static char delimiter(String header) {
        return Stream.of(',', ';', '\t')
                .max(Comparator.comparingLong(
                        mark -> header.chars().filter(c -> c == mark).count()))
                .orElseThrow();
    }

    private static List<String> columns(String header, CSVFormat format) throws IOException {
        try (CSVParser parser = CSVParser.parse(new StringReader(header), format)) {
            List<String> out = new ArrayList<>();
            parser.iterator().next().forEach(c -> out.add(c.trim()));
            return out;
        }
    }

    private static Map<String, String> cells(CSVRecord row, List<String> columns) {
        if (row.size() > columns.size()) {
            throw new BadField(
                    "",
                    "has " + row.size() + " cells, the header has " + columns.size()
                            + "; is a quotation mark missing?");
        }
        Map<String, String> out = new LinkedHashMap<>();
        for (int c = 0; c < row.size(); c++) {
            out.put(columns.get(c), row.get(c));
        }
        return out;
    }

    /** Where a row begins that was read last, the header being line 1: its cells may hold line feeds. */
    private static long line(CSVParser parser, CSVRecord row) {
        long within =
                row.stream().flatMapToInt(String::chars).filter(c -> c == '\n').count();
        return 1 + parser.getCurrentLineNumber() - within;
    }

    /** A row as it would be written again. */
    private static String text(CSVRecord row, CSVFormat format) {
        return format.format((Object[]) row.values());
    }
}
