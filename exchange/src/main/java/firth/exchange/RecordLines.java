package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.record.Deed;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.function.Consumer;

/** The record as lines: a JSON object an entry (docs/record.md). */
public final class RecordLines {

    private RecordLines() {}

    /** Writes entries, one a line. */
    public static final class Writing implements AutoCloseable {

        private final BufferedWriter out;

        public Writing(OutputStream to) {
            this.out = new BufferedWriter(new OutputStreamWriter(to, StandardCharsets.UTF_8));
        }

        public void write(Deed deed) {
            ObjectNode line = Json.MAPPER
                    .createObjectNode()
                    .put("number", deed.number())
                    .put("at", deed.at().toString())
                    .put("who", deed.who())
                    .put("act", deed.act())
                    .put("about", deed.about())
                    .put("detail", deed.detail())
                    .put("previous", deed.previous())
                    .put("hash", deed.hash());
            try {
                out.write(line.toString());
                out.write('\n');
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        @Override
        public void close() throws IOException {
            out.close();
        }
    }

    /**
     * Reads entries and hands them over one by one.
     *
     * @throws IOException where a line is no entry; names the line
     */
    public static void read(InputStream from, Consumer<Deed> to) throws IOException {
        BufferedReader in = new BufferedReader(new InputStreamReader(from, StandardCharsets.UTF_8));
        int number = 0;
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            number++;
            if (!line.isBlank()) {
                to.accept(entry(line, number));
            }
        }
    }

    private static Deed entry(String line, int number) throws IOException {
        try {
            JsonNode node = Json.MAPPER.readTree(line);
            return new Deed(
                    node.path("number").asLong(),
                    Instant.parse(node.path("at").asText()),
                    node.path("who").asText(),
                    node.path("act").asText(),
                    node.path("about").asText(),
                    node.path("detail").asText(),
                    node.path("previous").asText(),
                    node.path("hash").asText());
        } catch (com.fasterxml.jackson.core.JsonProcessingException
                | DateTimeParseException
                | IllegalArgumentException e) {
            throw new IOException("line " + number + " is not an entry of a record: export it anew and try again", e);
        }
    }
}
