package firth.exchange;

import java.io.IOException;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import org.jspecify.annotations.Nullable;

/** Reads batch after batch in a thread of its own, a few ahead of whoever takes them. */
final class ReadAhead<T> implements AutoCloseable {

    private static final int AHEAD = 4;

    /** Gives the next batch; an empty one is the last. */
    interface Source<T> {
        List<T> next() throws IOException;
    }

    /** A batch, or why there is none. */
    private record Handed<T>(List<T> batch, @Nullable Throwable flaw) {}

    private final BlockingQueue<Handed<T>> handed = new ArrayBlockingQueue<>(AHEAD);
    private final Thread reader;

    ReadAhead(Source<T> source) {
        reader = new Thread(() -> read(source), "reading ahead");
        reader.setDaemon(true);
        reader.start();
    }

    private void read(Source<T> source) {
        try {
            boolean more = true;
            while (more) {
                Handed<T> next = next(source);
                handed.put(next);
                more = !next.batch.isEmpty();
            }
        } catch (InterruptedException nobodyTakesMore) {
            Thread.currentThread().interrupt();
        }
    }

    private static <T> Handed<T> next(Source<T> source) {
        try {
            return new Handed<>(source.next(), null);
        } catch (IOException | RuntimeException | Error e) {
            return new Handed<>(List.of(), e);
        }
    }

    /**
     * The next batch; an empty one is the last.
     *
     * @throws IOException where reading failed
     */
    List<T> next() throws IOException {
        try {
            Handed<T> next = handed.take();
            if (next.flaw instanceof IOException e) {
                throw e;
            }
            if (next.flaw instanceof RuntimeException e) {
                throw e;
            }
            if (next.flaw instanceof Error e) {
                throw e;
            }
            return next.batch;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("Reading was interrupted", e);
        }
    }

    /** Ends reading, wherever it is, and waits for it. */
    @Override
    public void close() {
        reader.interrupt();
        while (reader.isAlive()) {
            handed.clear();
            try {
                reader.join(10);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }
}
