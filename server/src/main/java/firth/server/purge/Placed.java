package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;

/** Where a copy lies and what it adds up to, as its source told; empty where it did not. */
record Placed(String path, String checksum) {

    /** @param told what was told of a copy beyond what is computed with, as text of the exchange format */
    static Placed of(String told) {
        if (told.isEmpty()) {
            return new Placed("", "");
        }
        try {
            JsonNode node = Choosing.JSON.readTree(told);
            return new Placed(
                    node.path("path").asText(""), node.path("checksum").asText(""));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("what was told of a copy is not JSON", e);
        }
    }
}
