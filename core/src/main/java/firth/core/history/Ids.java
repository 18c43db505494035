package firth.core.history;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Many short texts by row, kept as one stretch of bytes; a row's text is made when it is asked for. */
final class Ids {

    private static final byte[] NONE = {};

    private byte[] bytes = new byte[1024];
    private int[] ends = new int[64];
    private int size;

    /** Takes the next row's text; an empty one stands for none. */
    void add(String text) {
        byte[] own = text.isEmpty() ? NONE : text.getBytes(StandardCharsets.UTF_8);
        add(own, own.length);
    }

    /** As {@link #add(String)}, the text as the first bytes of its UTF-8. */
    void add(byte[] text, int length) {
        int begin = size == 0 ? 0 : ends[size - 1];
        if (size == ends.length) {
            ends = Arrays.copyOf(ends, 2 * size);
        }
        if (begin + length > bytes.length) {
            bytes = Arrays.copyOf(bytes, Math.max(2 * bytes.length, begin + length));
        }
        System.arraycopy(text, 0, bytes, begin, length);
        ends[size++] = begin + length;
    }

    private int begin(int row) {
        return row == 0 ? 0 : ends[row - 1];
    }

    boolean isEmpty(int row) {
        return begin(row) == ends[row];
    }

    String get(int row) {
        return new String(bytes, begin(row), ends[row] - begin(row), StandardCharsets.UTF_8);
    }

    boolean is(int row, byte[] text) {
        return Arrays.equals(bytes, begin(row), ends[row], text, 0, text.length);
    }

    /** Orders two rows by their texts. */
    int compare(int one, int other) {
        return Arrays.compareUnsigned(bytes, begin(one), ends[one], bytes, begin(other), ends[other]);
    }
}
