package firth.agent;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.link.Signatures;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * Items of one list, to be deleted now.
 *
 * @param hash of the list as it was approved
 * @param expires from when on nothing of it may be deleted
 */
record Batch(String purge, String hash, Instant expires, List<Item> items, String signature) {

    /** @param bytes 0 where not known */
    record Item(int item, String path, long bytes, String checksum) {}

    /**
     * As Firth writes it.
     *
     * @throws DateTimeException where it does not say when it expires
     */
    static Batch of(JsonNode batch) {
        List<Item> items = new ArrayList<>();
        batch.path("items")
                .forEach(i -> items.add(new Item(
                        i.path("item").asInt(),
                        i.path("path").asText(),
                        i.path("bytes").asLong(),
                        i.path("checksum").asText())));
        return new Batch(
                batch.path("purge").asText(),
                batch.path("hash").asText(),
                Instant.parse(batch.path("expires").asText()),
                items,
                batch.path("signature").asText());
    }

    /** Whether Firth, which alone knows the key, made it as it is. */
    boolean isSignedWith(String key) {
        return MessageDigest.isEqual(
                Signatures.sign(key, signed()).getBytes(StandardCharsets.US_ASCII),
                signature.getBytes(StandardCharsets.UTF_8));
    }

    /** What a signature is over. */
    String signed() {
        StringBuilder text = new StringBuilder(purge + "\n" + hash + "\n" + expires);
        for (Item i : items) {
            text.append('\n').append(i.item()).append('\n').append(i.path());
            text.append('\n').append(i.bytes()).append('\n').append(i.checksum());
        }
        return text.toString();
    }

    /** What names the deletion of an item among all others. */
    String deed(Item item) {
        return purge + " " + item.item();
    }
}
