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
import java.util.stream.Stream;

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

    /** Processes that have something open in a directory, as far as this one may see. */
    static List<Long> using(Path directory) {
        return ProcessHandle.allProcesses()
                .map(ProcessHandle::pid)
                .filter(pid -> pid != ProcessHandle.current().pid())
                .filter(pid -> hasOpen(pid, directory))
                .toList();
    }

    private static boolean hasOpen(long pid, Path directory) {
        Path of = Path.of("/proc", Long.toString(pid));
        if (leadsInto(of.resolve("cwd"), directory)) {
            return true;
        }
        try (Stream<Path> open = Files.list(of.resolve("fd"))) {
            return open.anyMatch(f -> leadsInto(f, directory));
        } catch (IOException | UncheckedIOException goneOrNotOurs) {
            return false;
        }
    }

    private static boolean leadsInto(Path link, Path directory) {
        try {
            return Files.readSymbolicLink(link).startsWith(directory);
        } catch (IOException goneOrNotOurs) {
            return false;
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
