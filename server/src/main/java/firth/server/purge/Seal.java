package firth.server.purge;

import firth.server.platform.Secrets;
import firth.store.Purges;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** What shows that a list is the one that was seen, approved and handed out. */
final class Seal {

    private Seal() {}

    /** SHA-256 over the proof and every item as it was asked for. What became of an item is no part of it. */
    static String of(String proof, List<Purges.Item> items) {
        return Secrets.hash(items.stream()
                .map(i -> String.join(
                        "\t",
                        String.valueOf(i.num()),
                        i.database(),
                        i.backup(),
                        i.store(),
                        i.path(),
                        String.valueOf(i.bytes()),
                        i.checksum(),
                        i.landed().toString()))
                .collect(Collectors.joining("\n", proof + "\n", "\n")));
    }

    /** HMAC-SHA256 over a text, in hexadecimal. */
    static String sign(String key, String text) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(key.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
            return HexFormat.of().formatHex(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("Every Java has HmacSHA256", e);
        }
    }
}
