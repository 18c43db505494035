package firth.server.purge;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.server.platform.BadRequest;
import firth.store.Purges;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
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
 * @param firth the address at which this Firth was asked for it, without a slash at its end
 * @param expires from when on the script deletes nothing any more
 */
record ByHandLists(Purges.Purge purge, List<Purges.Item> items, boolean begun, String firth, Instant expires) {

    /** How long a list may be carried out after it was saved. */
    static final Duration GOOD_FOR = Duration.ofHours(24);

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
                    "text",
                    "at",
                    "by")
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
                        i.state().isOpen() ? "" : i.state().word(),
                        i.freed().isPresent() ? Math.round(i.freed().getAsDouble()) : "",
                        i.told(),
                        i.state().isOpen() ? "" : i.at().map(Instant::toString).orElse(""),
                        i.toldBy());
            }
        }
    }

    private void lines(Writer out) throws IOException {
        for (Purges.Item i : items) {
            ObjectNode line = PurgeChoices.JSON
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
            if (!i.state().isOpen()) {
                line.put("outcome", i.state().word()).put("text", i.told()).put("by", i.toldBy());
                i.freed().ifPresent(f -> line.put("freed", Math.round(f)));
                i.at().ifPresent(at -> line.put("at", at.toString()));
            }
            out.write(line + "\n");
        }
    }

    /** Deletes each file and writes the table of outcomes to standard output. */
    private void script(Writer out) throws IOException {
        out.write("#!/bin/sh\n# " + purge.id() + ", sealed " + purge.hash() + "\n");
        out.write("# Usage: sh " + purge.id() + ".sh DIRECTORY > told.csv   (paths below are within DIRECTORY)\n");
        out.write("# Firth is asked first what may go still: FIRTH is its address, FIRTH_TOKEN a token it knows.\n");
        if (!begun) {
            out.write("echo '" + purge.id() + " is " + purge.state().word()
                    + ": nothing is to be deleted' >&2\nexit 1\n");
            return;
        }
        out.write("firth=${FIRTH:-" + quoted(firth) + "}\n");
        out.write("list=" + quoted("/api/purge/" + purge.id() + "/going?hash=" + purge.hash()) + "\n");
        out.write("expires=" + expires.getEpochSecond() + " # " + expires + "\n");
        out.write(BEFORE);
        for (Purges.Item i : items) {
            if (i.path().isEmpty()) {
                out.write("echo '" + i.num() + ",failed,,nobody said where it lies'\n");
            } else {
                out.write("go " + i.num() + " " + Math.round(i.bytes()) + " " + quoted(sha256(i.checksum())) + " "
                        + quoted(i.path().startsWith("/") ? i.path().substring(1) : i.path()) + "\n");
            }
        }
    }

    private static String sha256(String checksum) {
        return checksum.startsWith("sha256:") ? checksum.substring("sha256:".length()) : "";
    }

    private static final String BEFORE = """
            [ "$(date +%s)" -lt "$expires" ] || { echo 'this script has expired: save it again' >&2; exit 1; }
            root=$(cd -- "${1:?say where the files of the store lie}" && pwd -P) || exit 1
            going=$(mktemp) || exit 1
            trap 'rm -f "$going"' EXIT
            code=$(curl -s -m 60 -o "$going" -w '%{http_code}' -H "Authorization: Bearer ${FIRTH_TOKEN:-}" \
              -H 'Accept: text/plain' "$firth$list" 2>/dev/null)
            case "$code" in
              200) ;;
              ''|000) echo 'Firth cannot be reached: going by the list as it was saved' >&2; echo '1 999999999' > "$going";;
              *) echo "Firth does not allow it to be deleted ($code):" >&2; cat "$going" >&2; echo >&2; exit 1;;
            esac
            exec 3< "$going"
            low=0
            high=0
            may() { # item: whether it is in one of the ranges, which ascend as items do
              while [ "$1" -gt "$high" ]; do
                read -r low high <&3 || { low=1000000000; high=1000000000; }
              done
              [ "$1" -ge "$low" ]
            }
            go() { # item, bytes, sha256, path
              may "$1" || { echo "$1,,,"; return; }
              file="$root/$4"
              if [ ! -e "$file" ] && [ ! -L "$file" ]; then echo "$1,missing,,"; return; fi
              if [ -L "$file" ] || [ ! -f "$file" ]; then echo "$1,failed,,it is not a plain file"; return; fi
              real=$(cd -- "$(dirname -- "$file")" && pwd -P) || { echo "$1,failed,,its directory cannot be entered"; return; }
              case "$real/" in
                "$root"/*) ;;
                *) echo "$1,failed,,it lies outside of the directory"; return;;
              esac
              freed=$(wc -c < "$file" | tr -d ' ')
              if [ "$2" -gt 0 ] && [ "$2" -ne "$freed" ]; then echo "$1,failed,,it is not as large as it was written"; return; fi
              if [ -n "$3" ] && [ "$(sha256sum < "$file" | cut -d ' ' -f 1)" != "$3" ]; then
                echo "$1,failed,,its checksum is another"; return
              fi
              if rm -- "$file" 2>/dev/null; then echo "$1,deleted,$freed,"; else echo "$1,failed,,it could not be removed"; fi
            }
            echo item,outcome,freed,text
            """;

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
