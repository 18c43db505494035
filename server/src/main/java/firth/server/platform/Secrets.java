package firth.server.platform;

import firth.core.record.Digests;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;

/** Words nobody can guess, and what of them is kept. */
public final class Secrets {

    private static final SecureRandom RANDOM = new SecureRandom();

    private Secrets() {}

    /** 256 bits at random, fit for an address or a header. */
    public static String make() {
        return random(32);
    }

    /** 80 bits at random: short enough to be typed once. */
    public static String makeShort() {
        return random(10);
    }

    private static String random(int length) {
        byte[] bytes = new byte[length];
        RANDOM.nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    /** SHA-256 in hexadecimal. A slow hash is not needed: what is hashed cannot be guessed. */
    public static String hash(String secret) {
        return Digests.of(secret);
    }

    /** Whether two secrets are the same, found out in a time that tells nothing. */
    public static boolean same(String a, String b) {
        return MessageDigest.isEqual(a.getBytes(StandardCharsets.UTF_8), b.getBytes(StandardCharsets.UTF_8));
    }

    /** What a page of a session must show with every change, since other sites' pages cannot know it. */
    public static String pageToken(String session) {
        return hash("page " + session);
    }
}
