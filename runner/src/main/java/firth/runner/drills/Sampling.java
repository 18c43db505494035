package firth.runner.drills;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.OptionalDouble;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** Looks every few seconds how far a restore is, and mentions it. */
final class Sampling implements AutoCloseable {

    private static final int EVERY_S = 5;

    /** Longer than one waits for Firth's answer. */
    private static final int LAST_WORD_S = 180;

    private enum Of {
        NOTHING,
        FILES,
        LOGS
    }

    private final Course course;
    private final Plan plan;
    private final Scratch scratch;
    private final Path into;
    private final int logs;
    private final ScheduledExecutorService looks = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread thread = new Thread(r, "course");
        thread.setDaemon(true);
        return thread;
    });
    private volatile Of of = Of.NOTHING;

    Sampling(Course course, Plan plan, Scratch scratch, Path into, int logs) {
        this.course = course;
        this.plan = plan;
        this.scratch = scratch;
        this.into = into;
        this.logs = logs;
        var unused = looks.scheduleWithFixedDelay(this::look, 0, EVERY_S, TimeUnit.SECONDS);
    }

    /** Files are restored from now on. */
    void files() {
        of = Of.FILES;
    }

    /** The last look at the files was at all of them; logs are applied from now on. */
    void logs() {
        measure();
        of = Of.LOGS;
    }

    /** Nothing more is to be measured. */
    void stop() {
        measure();
        of = Of.NOTHING;
    }

    private synchronized void measure() {
        switch (of) {
            case FILES ->
                course.done(
                        (double) (bytes(into) + bytes(into.resolveSibling(into.getFileName() + ".ready"))),
                        plan.needed() > 0 ? OptionalDouble.of(plan.needed()) : OptionalDouble.empty());
            case LOGS -> scratch.applied().ifPresent(n -> course.done((double) n, OptionalDouble.of(logs)));
            case NOTHING -> {}
        }
    }

    private void look() {
        measure();
        try {
            course.mention();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static long bytes(Path directory) {
        if (Files.notExists(directory)) {
            return 0;
        }
        try (Stream<Path> all = Files.walk(directory)) {
            return all.mapToLong(Sampling::size).sum();
        } catch (IOException | UncheckedIOException changing) {
            // What goes while it is looked at is measured with the next look.
            return 0;
        }
    }

    private static long size(Path file) {
        try {
            return Files.isRegularFile(file) ? Files.size(file) : 0;
        } catch (IOException gone) {
            return 0;
        }
    }

    /** What is being mentioned still arrives before it is told how all of it ended. */
    @Override
    public void close() {
        looks.shutdown();
        try {
            if (!looks.awaitTermination(LAST_WORD_S, TimeUnit.SECONDS)) {
                looks.shutdownNow();
            }
        } catch (InterruptedException e) {
            looks.shutdownNow();
            Thread.currentThread().interrupt();
        }
    }
}
