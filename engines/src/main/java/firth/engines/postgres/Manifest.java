package firth.engines.postgres;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * A {@code backup_manifest}: the files of a base backup with their sizes and checksums, and the log it needs.
 *
 * @param systemIdentifier from PostgreSQL 17 on
 */
record Manifest(OptionalLong systemIdentifier, List<Entry> files, List<Range> ranges) {

    private static final JsonFactory JSON = new JsonFactory();
    private static final String OWN_CHECKSUM = "\"Manifest-Checksum\"";

    Manifest {
        files = List.copyOf(files);
        ranges = List.copyOf(ranges);
    }

    /** A file; its path is from the root of the backup. */
    record Entry(String path, long size, Optional<String> algorithm, String checksum) {}

    /** A stretch of log of one timeline. */
    record Range(int timeline, long start, long end) {}

    /** @throws IOException where it is no manifest, or its own checksum is wrong */
    static Manifest parse(byte[] content) throws IOException {
        OptionalLong system = OptionalLong.empty();
        List<Entry> files = new ArrayList<>();
        List<Range> ranges = new ArrayList<>();
        String own = "";
        try (JsonParser json = JSON.createParser(content)) {
            if (json.nextToken() != JsonToken.START_OBJECT) {
                throw new IOException("is no manifest of a backup");
            }
            while (json.nextToken() == JsonToken.FIELD_NAME) {
                String field = json.currentName();
                json.nextToken();
                switch (field) {
                    case "System-Identifier" ->
                        system = OptionalLong.of(json.getBigIntegerValue().longValue());
                    case "Files" -> {
                        while (json.nextToken() == JsonToken.START_OBJECT) {
                            files.add(entry(json));
                        }
                    }
                    case "WAL-Ranges" -> {
                        while (json.nextToken() == JsonToken.START_OBJECT) {
                            ranges.add(range(json));
                        }
                    }
                    case "Manifest-Checksum" -> own = json.getText();
                    default -> json.skipChildren();
                }
            }
        } catch (IllegalArgumentException e) {
            throw new IOException("has a stretch of log that is none: " + e.getMessage(), e);
        }
        if (!own.equalsIgnoreCase(checksum(content))) {
            throw new IOException("does not agree with its own checksum: it was cut off or changed");
        }
        return new Manifest(system, files, ranges);
    }

    /** Over everything before the line that states it. */
    private static String checksum(byte[] content) throws IOException {
        String text = new String(content, StandardCharsets.ISO_8859_1);
        int at = text.lastIndexOf(OWN_CHECKSUM);
        int line = at < 0 ? -1 : text.lastIndexOf('\n', at);
        if (line < 0) {
            throw new IOException("has no checksum of its own: it was cut off");
        }
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update(content, 0, line + 1);
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Entry entry(JsonParser json) throws IOException {
        String path = "";
        long size = 0;
        Optional<String> algorithm = Optional.empty();
        String checksum = "";
        while (json.nextToken() == JsonToken.FIELD_NAME) {
            String field = json.currentName();
            json.nextToken();
            switch (field) {
                case "Path" -> path = json.getText();
                case "Encoded-Path" ->
                    path = new String(HexFormat.of().parseHex(json.getText()), StandardCharsets.UTF_8);
                case "Size" -> size = json.getLongValue();
                case "Checksum-Algorithm" -> algorithm = Optional.of(json.getText());
                case "Checksum" -> checksum = json.getText();
                default -> json.skipChildren();
            }
        }
        return new Entry(path, size, algorithm, checksum);
    }

    private static Range range(JsonParser json) throws IOException {
        int timeline = 0;
        long start = 0;
        long end = 0;
        while (json.nextToken() == JsonToken.FIELD_NAME) {
            String field = json.currentName();
            json.nextToken();
            switch (field) {
                case "Timeline" -> timeline = json.getIntValue();
                case "Start-LSN" -> start = Lsn.parse(json.getText());
                case "End-LSN" -> end = Lsn.parse(json.getText());
                default -> json.skipChildren();
            }
        }
        return new Range(timeline, start, end);
    }
}
