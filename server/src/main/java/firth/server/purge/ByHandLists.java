package firth.server.purge;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.server.BadRequest;
import firth.server.api.AgentWork;
import firth.store.Purges;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;

/**
 * A list for those who delete by hand, and what they tell afterwards (docs/agents.md).
 *
 * @param begun whether it is being carried out; before, the script deletes nothing
 */
record ByHandLists(Purges.Purge purge, List<Purges.Item> items, boolean begun) {

    private static final CSVFormat TABLE = CSVFormat.RFC4180
            .builder()
            .setHeader(
                    "item",
                    "database",
                    "backup",
                    "kind",
                    "store",
                    "path",
                    "bytes",
                    "checksum",
                    "why",
                    "outcome",
                    "freed",
                    "text")
            .get();

    void write(String format, OutputStream to) throws IOException {
        try (Writer out = new OutputStreamWriter(to, StandardCharsets.UTF_8)) {
            switch (format) {
                case "csv" -> table(out);
                case "ndjson" -> lines(out);
                default -> script(out);
            }
        }
    }

    private void table(Writer out) throws IOException {
        try (CSVPrinter csv = new CSVPrinter(out, TABLE)) {
            for (Purges.Item i : items) {
                csv.printRecord(
                        i.num(),
                        i.database(),
                        i.backup(),
                        i.kind(),
                        i.store(),
                        i.path(),
                        Math.round(i.bytes()),
                        i.checksum(),
                        i.why(),
                        "",
                        "",
                        "");
            }
        }
    }

    private void lines(Writer out) throws IOException {
        for (Purges.Item i : items) {
            ObjectNode line = Choosing.JSON
                    .createObjectNode()
                    .put("purge", purge.id())
                    .put("hash", purge.hash())
                    .put("item", i.num())
                    .put("database", i.database())
                    .put("backup", i.backup())
                    .put("store", i.store())
                    .put("path", i.path())
                    .put("bytes", Math.round(i.bytes()))
                    .put("checksum", i.checksum());
            out.write(line + "\n");
        }
    }

    /** Deletes each file and writes the table of outcomes to standard output. */
    private void script(Writer out) throws IOException {
        out.write("#!/bin/sh\n# " + purge.id() + ", sealed " + purge.hash() + "\n");
        out.write("# Usage: sh " + purge.id() + ".sh DIRECTORY > told.csv   (paths below are within DIRECTORY)\n");
        if (!begun) {
            out.write("echo '" + purge.id() + " is " + purge.state().word()
                    + ": nothing is to be deleted' >&2\nexit 1\n");
            return;
        }
        out.write("root=${1:?say where the files of the store lie}\n");
        out.write("echo item,outcome,freed,text\n");
        out.write("""
                go() { # item, path
                  file="$root/$2"
                  if [ ! -e "$file" ]; then echo "$1,missing,,"; return; fi
                  freed=$(wc -c < "$file" | tr -d ' ')
                  if rm -- "$file" 2>/dev/null; then echo "$1,deleted,$freed,"; else echo "$1,failed,,could not be removed"; fi
                }
                """);
        for (Purges.Item i : items) {
            if (i.path().isEmpty()) {
                out.write("echo '" + i.num() + ",failed,,nobody said where it lies'\n");
            } else {
                out.write("go " + i.num() + " " + quoted(i.path()) + "\n");
            }
        }
    }

    /** A word for a shell, whatever is in it. */
    static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }

    /** @throws BadRequest where a line cannot be read; names it */
    static List<AgentWork.ToldItem> read(InputStream table) throws IOException {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setHeader()
                .setSkipHeaderRecord(true)
                .get();
        List<AgentWork.ToldItem> out = new ArrayList<>();
        try (CSVParser rows = CSVParser.parse(new InputStreamReader(table, StandardCharsets.UTF_8), format)) {
            if (!rows.getHeaderNames().containsAll(List.of("item", "outcome"))) {
                throw new BadRequest("table", "has no columns item and outcome in its first line");
            }
            for (CSVRecord row : rows) {
                String outcome = row.get("outcome");
                if (!outcome.isBlank()) {
                    out.add(new AgentWork.ToldItem(
                            (int) number(row, "item"),
                            outcome.strip(),
                            cell(row, "freed").isEmpty() ? null : number(row, "freed"),
                            cell(row, "text")));
                }
            }
        }
        return out;
    }

    private static String cell(CSVRecord row, String column) {
        return row.isMapped(column) && row.isSet(column) ? row.get(column).strip() : "";
    }

    private static double number(CSVRecord row, String column) {
        try {
            return Double.parseDouble(cell(row, column));
        } catch (NumberFormatException e) {
            throw new BadRequest(
                    "table",
                    "line " + (row.getRecordNumber() + 1) + ": " + column + " is not a number: " + cell(row, column));
        }
    }
}
