package firth.server;

import static io.restassured.RestAssured.given;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;

/** Listings of stores made from what the catalog takes to be there. */
public final class StoreListing {

    private static final ObjectMapper JSON = new ObjectMapper();

    private StoreListing() {}

    /** What a store lists that has all the catalog takes to be there: by path, the size. */
    public static Map<String, Long> whole(String store, Instant now) throws IOException {
        Map<String, Long> out = new TreeMap<>();
        for (String line : given().get("/api/export").asString().split("\n")) {
            JsonNode record = JSON.readTree(line);
            for (JsonNode copy : record.path("copies")) {
                boolean there = !copy.hasNonNull("gone") && !copy.hasNonNull("spoiled");
                if (record.path("type").asText().equals("backup")
                        && copy.path("store").asText().equals(store)
                        && there
                        && copy.hasNonNull("path")
                        && landed(record, copy, now)) {
                    out.put(
                            copy.path("path").asText(),
                            Math.round(copy.path("bytes")
                                    .asDouble(record.path("bytes").asDouble())));
                }
            }
        }
        return out;
    }

    private static boolean landed(JsonNode backup, JsonNode copy, Instant now) {
        return Instant.parse(copy.path("landed").asText(backup.path("ended").asText()))
                .isBefore(now.minus(Duration.ofMinutes(2)));
    }

    /** It as a table. */
    public static byte[] table(Map<String, Long> files) {
        StringBuilder out = new StringBuilder("path,size\n");
        files.forEach((path, size) -> out.append(path).append(',').append(size).append('\n'));
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }
}
