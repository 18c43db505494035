package firth.exchange;

import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;

/** Splits bytes into lines without ever holding more than one, and no line that is too long. */
final class Lines {

    /** Bytes a line may have. */
    static final int LONGEST = 4 << 20;

    private final InputStream in;
    private final byte[] chunk = new byte[1 << 16];
    private int at;
    private int end;
    private byte[] line = new byte[1 << 12];
    private int length;
    private boolean tooLong;
    private boolean terminated;

    Lines(InputStream in) {
        this.in = in;
    }

    /** Moves to the next line; false when there is none. */
    boolean next() throws IOException {
        length = 0;
        tooLong = false;
        terminated = false;
        boolean any = false;
        while (true) {
            if (at == end) {
                end = in.read(chunk);
                at = 0;
                if (end < 0) {
                    end = 0;
                    return any;
                }
            }
            any |= end > at;
            int stop = at;
            while (stop < end && chunk[stop] != '\n') {
                stop++;
            }
            take(stop - at);
            at = stop;
            if (stop < end) {
                at++;
                terminated = true;
                return true;
            }
        }
    }

    private void take(int count) {
        if (length + count > LONGEST) {
            tooLong = true;
            return;
        }
        if (length + count > line.length) {
            line = Arrays.copyOf(line, Math.max(2 * line.length, length + count));
        }
        System.arraycopy(chunk, at, line, length, count);
        length += count;
    }

    byte[] bytes() {
        return line;
    }

    int length() {
        return length;
    }

    boolean tooLong() {
        return tooLong;
    }

    /** Whether the line ended with a line feed; only the last may not. */
    boolean terminated() {
        return terminated;
    }

    boolean blank() {
        for (int i = 0; i < length; i++) {
            if (line[i] != ' ' && line[i] != '\t' && line[i] != '\r') {
                return false;
            }
        }
        return !tooLong;
    }

    boolean hasZeroByte() {
        for (int i = 0; i < length; i++) {
            if (line[i] == 0) {
                return true;
            }
        }
        return false;
    }
}
