package firth.runner;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * The log of one PostgreSQL server, received as it is written: by the engine's own program, under a slot that keeps on the server what has
 * not been received. The program is started again whenever it has ended, and ended when this one is.
 */
final class Receiving {

    /** After it ended it is started again no sooner. */
    private static final Duration RESTS = Duration.ofSeconds(5);

    private final String database;
    private final PostgresSlot slot;
    private final StoreDirectory store;
    private final Shelves shelves;
    private final Outbox outbox;
    private final Path output;
    private final Clock clock;
    private final Consumer<String> says;
    private @Nullable Process process;
    private Instant started = Instant.EPOCH;
    private String trouble = "";

    /**
     * Does nothing yet.
     *
     * @param store into whose archive it is received
     * @param state where the program's own words are kept
     */
    Receiving(
            String database,
            PostgresSlot slot,
            StoreDirectory store,
            Shelves shelves,
            Outbox outbox,
            Path state,
            Clock clock,
            Consumer<String> says) {
        this.database = database;
        this.slot = slot;
        this.store = store;
        this.shelves = shelves;
        this.outbox = outbox;
        this.output = state.resolve(database + ".receiving.log");
        this.clock = clock;
        this.says = says;
    }

    /** Sees to it that the log is being received, and tells how far it has come. */
    synchronized void keepOn() throws InterruptedException {
        try {
            start();
            Optional<Instant> until = slot.receivedUntil();
            shelves.look("", until, found -> outbox.add(found.untold()));
            if (until.isPresent()) {
                trouble = "";
            }
        } catch (Trouble e) {
            say(e.why());
        } catch (IOException | RuntimeException e) {
            // The next try may go better, and there would be none if this one did not end.
            say(Trouble.said(e));
        }
    }

    /** Each trouble once, however often it is met. */
    private void say(String what) {
        if (!what.equals(trouble)) {
            trouble = what;
            says.accept("the log of " + database + " is not received: " + what);
        }
    }

    private void start() throws IOException, Trouble, InterruptedException {
        if (process != null && process.isAlive()) {
            return;
        }
        Instant now = clock.instant();
        if (now.isBefore(started.plus(RESTS))) {
            throw new Trouble(trouble.isEmpty() ? ended() : trouble);
        }
        if (process != null) {
            say(ended());
        }
        started = now;
        slot.keep();
        slot.free();
        List<String> command = slot.receiving(into(now));
        ProcessBuilder builder =
                new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(output.toFile());
        builder.redirectInput(ProcessBuilder.Redirect.from(new File("/dev/null")));
        builder.environment().put("LC_ALL", "C.UTF-8");
        try {
            process = builder.start();
        } catch (IOException e) {
            throw new Trouble(command.get(0) + " cannot be started: " + e.getMessage());
        }
    }

    /**
     * The directory it goes on in. The engine's program goes on behind the newest log it finds there. It does not at all where the server
     * does not have any longer what follows, and passes over what is not there where an archiver has put a newer one into the same
     * directory: then it begins anew in a directory beside.
     */
    private Path into(Instant now) throws IOException, Trouble, InterruptedException {
        List<Path> archives = PostgresSlot.archives(store.archive(database));
        Path last = archives.get(archives.size() - 1);
        slot.clear(last);
        boolean cannot = process != null && slot.hasOnlyAfter(PostgresSlot.newest(last));
        if (cannot || slot.wouldPassOver(archives)) {
            Path beside = last.resolveSibling(archives.get(0).getFileName() + "-" + Carrying.STAMP.format(now));
            return Files.createDirectories(beside);
        }
        return last;
    }

    /** What the engine said last. */
    private String ended() throws IOException {
        // At last it says that it was disconnected, and before that why.
        List<String> said = Files.exists(output)
                ? Files.readAllLines(output).stream()
                        .filter(l -> !l.endsWith(": disconnected"))
                        .toList()
                : List.of();
        return said.isEmpty() ? "the program that does has ended" : said.get(said.size() - 1);
    }

    /** Ends it; what it has not received waits on the server. */
    synchronized void end() throws InterruptedException {
        if (process != null) {
            process.destroy();
            process.waitFor();
        }
    }
}
