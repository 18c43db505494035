package firth.engines.mariadb;

import firth.engines.Keys;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A dump of the server's own client, with the place in the binary logs it was taken at.
 *
 * @param finished whether its last line is there
 */
record LogicalDump(Path file, Optional<Coordinate> coordinate, boolean finished) {

    private static final int HEAD = 1 << 16;
    private static final int TAIL = 512;
    private static final Pattern FIRST_LINE = Pattern.compile("(?s)(/\\*M?!.*?\\*/;?\\s*)?-- (MariaDB|MySQL) dump .*");
    private static final Pattern PLACE =
            Pattern.compile("(?:MASTER|SOURCE)_LOG_FILE='([^']+)',\\s*(?:MASTER|SOURCE)_LOG_POS=(\\d+)");

    /** What a file that may be a dump says; nothing where it is none. */
    static Optional<LogicalDump> read(Path file, Keys keys) throws IOException {
        try (InputStream in = Packed.open(file, keys)) {
            byte[] head = in.readNBytes(HEAD);
            String text = new String(head, StandardCharsets.ISO_8859_1);
            if (!FIRST_LINE.matcher(text).matches()) {
                return Optional.empty();
            }
            Matcher m = PLACE.matcher(text);
            Optional<Coordinate> at = m.find() ? PhysicalBackup.coordinate(m.group(1), m.group(2)) : Optional.empty();
            return Optional.of(new LogicalDump(file, at, last(in, head).contains("-- Dump completed")));
        }
    }

    private static String last(InputStream in, byte[] head) throws IOException {
        byte[] before = head;
        byte[] chunk = new byte[HEAD];
        int length = head.length;
        byte[] older = new byte[0];
        int olderLength = 0;
        for (int n = in.readNBytes(chunk, 0, HEAD); n > 0; n = in.readNBytes(chunk, 0, HEAD)) {
            older = before;
            olderLength = length;
            before = chunk.clone();
            length = n;
        }
        String end = new String(before, 0, length, StandardCharsets.ISO_8859_1);
        String all = length < TAIL ? new String(older, 0, olderLength, StandardCharsets.ISO_8859_1) + end : end;
        return all.substring(Math.max(0, all.length() - TAIL));
    }
}
