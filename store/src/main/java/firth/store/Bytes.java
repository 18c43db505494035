package firth.store;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Bytes written one value after the other and read again: numbers in as few bytes as they need, small ones in one. */
final class Bytes {

    private static final VarHandle DOUBLES = MethodHandles.byteArrayViewVarHandle(double[].class, ByteOrder.BIG_ENDIAN);

    private byte[] content;
    private int at;

    /** To be written. */
    Bytes() {
        content = new byte[4096];
    }

    /** To be read, from a place on. */
    Bytes(byte[] content, int from) {
        this.content = content;
        this.at = from;
    }

    byte[] written() {
        return Arrays.copyOf(content, at);
    }

    private void room(int more) {
        if (at + more > content.length) {
            content = Arrays.copyOf(content, Math.max(2 * content.length, at + more));
        }
    }

    void putByte(int value) {
        room(1);
        content[at++] = (byte) value;
    }

    int takeByte() {
        return content[at++] & 0xFF;
    }

    /** A number near 0, negative or not. */
    void put(long value) {
        putPlain(value << 1 ^ value >> 63);
    }

    long take() {
        long value = takePlain();
        return value >>> 1 ^ -(value & 1);
    }

    /** A number of 0 or a little more. */
    void putPlain(long value) {
        room(10);
        long left = value;
        while ((left & ~0x7FL) != 0) {
            content[at++] = (byte) (left & 0x7F | 0x80);
            left >>>= 7;
        }
        content[at++] = (byte) left;
    }

    long takePlain() {
        long value = 0;
        int shift = 0;
        byte next = content[at++];
        while (next < 0) {
            value |= (next & 0x7FL) << shift;
            shift += 7;
            next = content[at++];
        }
        return value | (long) next << shift;
    }

    void putDouble(double value) {
        room(Double.BYTES);
        ByteBuffer.wrap(content).putDouble(at, value);
        at += Double.BYTES;
    }

    double takeDouble() {
        at += Double.BYTES;
        return (double) DOUBLES.get(content, at - Double.BYTES);
    }

    /** Takes a text's bytes into another array, from a place on; where they end there. */
    int takeText(byte[] into, int from) {
        int length = (int) takePlain();
        System.arraycopy(content, at, into, from, length);
        at += length;
        return from + length;
    }

    void put(String text) {
        byte[] own = text.getBytes(StandardCharsets.UTF_8);
        putPlain(own.length);
        room(own.length);
        System.arraycopy(own, 0, content, at, own.length);
        at += own.length;
    }

    String takeText() {
        int length = (int) takePlain();
        at += length;
        return new String(content, at - length, length, StandardCharsets.UTF_8);
    }
}
