package firth.engines;

import com.exceptionfactory.jagged.x25519.X25519KeyPairGenerator;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.NoSuchAlgorithmException;

/** Files of keys, as {@code age-keygen} writes them. */
public final class AgeKey {

    private AgeKey() {}

    public static Path write(Path file) throws IOException {
        try {
            KeyPair pair = new X25519KeyPairGenerator().generateKeyPair();
            return Files.writeString(
                    file,
                    "# created: 2026-11-30T00:00:00Z\n# public key: "
                            + new String(pair.getPublic().getEncoded(), StandardCharsets.US_ASCII) + "\n"
                            + new String(pair.getPrivate().getEncoded(), StandardCharsets.US_ASCII) + "\n");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
