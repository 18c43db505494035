package firth.engines.sqlite;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.HexFormat;

/** How far a write-ahead log goes that is being written: what was read is not read again. Locks of the engine are on other files. */
final class LogTail {

    private final Path log;
    private byte[] head = new byte[0];
    private int page;
    private long frames;
    private WriteAheadLog.Sum sum = new WriteAheadLog.Sum(java.nio.ByteOrder.BIG_ENDIAN);

    LogTail(Path log) {
        this.log = log;
    }

    /** The log it read last, by what the engine calls it; empty where there was none. */
    String name() {
        return head.length == 0 ? "" : HexFormat.of().formatHex(head, 16, 24);
    }

    /** Whether a log is the one the engine begins after another. */
    static boolean follows(String name, String before) {
        return !name.isEmpty()
                && !before.isEmpty()
                && HexFormat.fromHexDigits(name, 0, 8) == HexFormat.fromHexDigits(before, 0, 8) + 1;
    }

    int page() {
        return page;
    }

    /** How many of its frames belong to finished transactions. */
    long frames() {
        return frames;
    }

    /** How many bytes that are. */
    long bytes() {
        return head.length == 0 ? 0 : WriteAheadLog.HEADER + frames * (WriteAheadLog.FRAME_HEADER + page);
    }

    /** Reads on; whether it goes further now, or another one began. */
    boolean read() throws IOException {
        if (!Files.exists(log) || Files.size(log) < WriteAheadLog.HEADER) {
            boolean had = head.length > 0;
            head = new byte[0];
            frames = 0;
            return had;
        }
        try (FileChannel in = FileChannel.open(log, StandardOpenOption.READ)) {
            byte[] now = bytes(in, 0, WriteAheadLog.HEADER);
            boolean began = !Arrays.equals(now, head);
            if (began) {
                sum = WriteAheadLog.begun(now);
                head = now;
                page = ByteBuffer.wrap(head).getInt(8);
                frames = 0;
            }
            return readOn(in) || began;
        }
    }

    private boolean readOn(FileChannel in) throws IOException {
        long before = frames;
        WriteAheadLog.Sum running = sum.copy();
        int size = WriteAheadLog.FRAME_HEADER + page;
        for (long n = frames; ; n++) {
            byte[] frame = bytes(in, WriteAheadLog.HEADER + n * size, size);
            if (frame.length < size) {
                break;
            }
            ByteBuffer f = ByteBuffer.wrap(frame);
            running.add(frame, 0, 8);
            running.add(frame, WriteAheadLog.FRAME_HEADER, page);
            boolean ours = Arrays.equals(frame, 8, 16, head, 16, 24);
            if (!ours || !running.is(f.getInt(16), f.getInt(20))) {
                break;
            }
            if (f.getInt(4) != 0) {
                frames = n + 1;
                sum = running.copy();
            }
        }
        return frames > before;
    }

    private static byte[] bytes(FileChannel in, long at, int count) throws IOException {
        ByteBuffer out = ByteBuffer.allocate(count);
        while (out.hasRemaining() && in.read(out, at + out.position()) > 0) {
            // Until all of it is there, or no more is.
        }
        return Arrays.copyOf(out.array(), out.position());
    }
}
