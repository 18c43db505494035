package firth.runner;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.sqlite.KeptLog;
import firth.engines.sqlite.OnlineCopy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** A file of SQLite, copied while others write to it; its write-ahead log, too, where its application lets that be kept. */
class SqliteInstance implements Instance {

    private static final Duration WATCHES = Duration.ofMillis(200);

    private final Path file;
    private final Clock clock;
    private final Optional<Kept> kept;
    private @Nullable KeptLog log;

    /**
     * That its log is kept.
     *
     * @param database its id
     * @param spool a directory of this program
     */
    record Kept(String database, Path spool) {}

    SqliteInstance(Path file, Clock clock) {
        this(file, clock, Optional.empty());
    }

    SqliteInstance(Path file, Clock clock, Optional<Kept> kept) {
        this.file = file;
        this.clock = clock;
        this.kept = kept;
    }

    @Override
    public Set<Kind> kinds() {
        return kept.isPresent() ? Set.of(Kind.FULL, Kind.LOG) : Set.of(Kind.FULL);
    }

    @Override
    public boolean isServed() {
        return false;
    }

    /** Its log, which is kept from the first time on that it is asked for. */
    private synchronized KeptLog log() throws IOException, Trouble {
        Kept of = kept.orElseThrow(SqliteInstance::noLogs);
        if (log == null) {
            log = KeptLog.of(of.database, file, of.spool, clock);
        }
        return log;
    }

    /** What went wrong with it may have let others move it: it is begun anew, behind a gap if need be. */
    private synchronized Trouble lost(IOException why) {
        if (log != null) {
            try {
                log.close();
            } catch (IOException e) {
                why.addSuppressed(e);
            }
            log = null;
        }
        return new Trouble(String.valueOf(why.getMessage()));
    }

    boolean keepsItsLog() {
        return kept.isPresent();
    }

    /** Notes when transactions are in its log, for as long as nobody interrupts it; what goes wrong is said once. */
    void watch(Consumer<String> says) throws InterruptedException {
        String said = "";
        while (!Thread.currentThread().isInterrupted()) {
            try {
                try {
                    log().watch();
                    said = "";
                } catch (IOException e) {
                    throw lost(e);
                }
            } catch (Trouble e) {
                if (!said.equals(e.why())) {
                    said = e.why();
                    says.accept("the log of " + file + " is not kept: " + said);
                }
                Thread.sleep(Duration.ofSeconds(5).toMillis());
            }
            Thread.sleep(WATCHES.toMillis());
        }
    }

    @Override
    public void probe(ObjectNode into, boolean deletes) {
        boolean on = false;
        if (kept.isPresent()) {
            try {
                log();
                on = true;
            } catch (IOException | Trouble e) {
                into.withObject("/processes").put("log kept", false);
            }
        }
        into.put("logs", on ? "on" : "off");
        into.put("client", OnlineCopy.version()).put("server", OnlineCopy.version());
        into.withObject("/processes").put("file can be read", Files.isReadable(file));
    }

    @Override
    public String take(Kind kind, Optional<Path> parent, Path into, Course course) throws Trouble {
        Instant begun = clock.instant();
        String limit = course.most().isPresent() ? "; the engine cannot be held back to a limit" : "";
        try {
            if (kept.isPresent()) {
                log().copy(into, SqliteInstance::copy);
            } else {
                OnlineCopy.of(file, into);
                // It is a copy of what was committed when it began; whoever reads it goes by the date of the file.
                Files.setLastModifiedTime(into, FileTime.from(begun));
            }
            long bytes = Files.size(kept.isPresent() ? into.resolve(kept.get().database + ".db") : into);
            course.written(bytes);
            return "copied and checked, " + bytes + " bytes" + limit;
        } catch (KeptLog.StillRead e) {
            throw new Trouble(String.valueOf(e.getMessage()));
        } catch (IOException e) {
            throw kept.isPresent() ? lost(e) : new Trouble(String.valueOf(e.getMessage()));
        }
    }

    /** A program of its own: to close the file here would take the engine's locks from it. */
    private static void copy(Path from, Path to) throws IOException {
        try {
            Program.run(List.of("cp", from.toString(), to.toString()), line -> {});
        } catch (Trouble e) {
            throw new IOException(e.why(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("the copy was cut off", e);
        }
    }

    @Override
    public String fileName(String database, Kind kind, String stamp) {
        return kept.isPresent() ? "base-" + stamp : database + "-" + stamp + ".db";
    }

    @Override
    public boolean isReadByItsLogs() {
        return kept.isPresent();
    }

    @Override
    public Standing standing() throws Trouble {
        try {
            Instant at = clock.instant().truncatedTo(ChronoUnit.MILLIS);
            return new Standing(log().mark(), at, false);
        } catch (IOException e) {
            throw lost(e);
        }
    }

    @Override
    public Optional<String> endLog(Archive archive) throws Trouble, IOException {
        List<Path> pieces = cut();
        for (Path piece : pieces) {
            archive.lay(piece);
        }
        return pieces.stream().reduce((one, other) -> other).map(last -> "piece " + last.getFileName());
    }

    private List<Path> cut() throws Trouble {
        try {
            KeptLog own = log();
            own.cut();
            return own.pieces();
        } catch (IOException e) {
            throw lost(e);
        }
    }

    private static Trouble noLogs() {
        return new Trouble(
                "the runner's file does not say that its log is kept (log = true): ask for fulls more often instead");
    }
}
