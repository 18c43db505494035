package firth.exchange.link;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.HexFormat;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** What shows a program that Firth said something, and shows Firth that it was not altered. */
public final class Signatures {

    private static final String HMAC = "HmacSHA256";

    private Signatures() {}

    /** HMAC-SHA256 over a text, in hexadecimal. */
    public static String sign(String key, String text) {
        try {
            Mac mac = Mac.getInstance(HMAC);
            mac.init(new SecretKeySpec(key.getBytes(StandardCharsets.UTF_8), HMAC));
            return HexFormat.of().formatHex(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("Every Java has " + HMAC, e);
        }
    }
}
