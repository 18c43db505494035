package firth.engines.postgres;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Locale;
import java.util.zip.CRC32C;

/** The checksums a manifest may state. */
final class Checksums {

    private static final int BUFFER = 1 << 16;

    private Checksums() {}

    /**
     * @param algorithm as a manifest names it
     * @return in hexadecimal digits as a manifest writes it
     * @throws IOException where the bytes cannot be read, or the algorithm is unknown
     */
    static String of(InputStream in, String algorithm) throws IOException {
        byte[] buffer = new byte[BUFFER];
        if (algorithm.equals("CRC32C")) {
            CRC32C crc = new CRC32C();
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                crc.update(buffer, 0, n);
            }
            return HexFormat.of()
                    .formatHex(ByteBuffer.allocate(4)
                            .order(ByteOrder.LITTLE_ENDIAN)
                            .putInt((int) crc.getValue())
                            .array());
        }
        try {
            MessageDigest digest =
                    MessageDigest.getInstance(algorithm.toUpperCase(Locale.ROOT).replace("SHA", "SHA-"));
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                digest.update(buffer, 0, n);
            }
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IOException("states checksums of a kind Firth does not know: " + algorithm, e);
        }
    }
}
