package firth.runner.drills;

import firth.runner.StoreDirectory;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.locks.LockSupport;

/** What a drill leaves: an engine that runs in its directory, and the directory. */
final class Remains {

    private static final int PATIENCE_S = 30;
    private static final int TRIES = 50;
    private static final Duration BETWEEN = Duration.ofMillis(200);

    private Remains() {}

    /** Ends every program that was started over something in the directory; nothing of it is to be kept. */
    static void end(Path directory) {
        List<ProcessHandle> over = ProcessHandle.allProcesses()
                .filter(p -> p.info()
                        .arguments()
                        .filter(a -> Arrays.stream(a).anyMatch(w -> w.contains(directory + "/")))
                        .isPresent())
                .filter(p -> p.pid() != ProcessHandle.current().pid())
                .toList();
        over.forEach(ProcessHandle::destroyForcibly);
        for (ProcessHandle p : over) {
            try {
                p.onExit().get(PATIENCE_S, TimeUnit.SECONDS);
            } catch (ExecutionException | TimeoutException e) {
                throw new IllegalStateException("process " + p.pid() + " over " + directory + " does not end", e);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /** Ends what runs there, and removes it; what its last programs still write meanwhile, too. */
    static void remove(Path directory) throws IOException {
        for (int n = 1; Files.exists(directory); n++) {
            end(directory);
            try {
                StoreDirectory.remove(directory);
            } catch (IOException | UncheckedIOException e) {
                if (n == TRIES) {
                    throw e;
                }
                LockSupport.parkNanos(BETWEEN.toNanos());
            }
        }
    }
}
