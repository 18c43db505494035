package firth.runner;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.sqlite.OnlineCopy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;

/** A file of SQLite, copied while others write to it. */
class SqliteInstance implements Instance {

    private final Path file;
    private final Clock clock;

    SqliteInstance(Path file, Clock clock) {
        this.file = file;
        this.clock = clock;
    }

    @Override
    public Set<Kind> kinds() {
        return Set.of(Kind.FULL);
    }

    @Override
    public boolean isServed() {
        return false;
    }

    @Override
    public void probe(ObjectNode into) {
        into.put("logs", "off");
        into.put("client", OnlineCopy.version()).put("server", OnlineCopy.version());
        into.putObject("processes").put("file can be read", Files.isReadable(file));
    }

    @Override
    public String take(Kind kind, Optional<Path> parent, Path into, Course course) throws Trouble {
        Instant begun = clock.instant();
        try {
            OnlineCopy.of(file, into);
            // It is a copy of what was committed when it began; whoever reads it goes by the date of the file.
            Files.setLastModifiedTime(into, FileTime.from(begun));
            course.written(Files.size(into));
            String limit = course.most().isPresent() ? "; the engine cannot be held back to a limit" : "";
            return "copied and checked, " + Files.size(into) + " bytes" + limit;
        } catch (IOException e) {
            throw new Trouble(String.valueOf(e.getMessage()));
        }
    }

    @Override
    public String fileName(String database, Kind kind, String stamp) {
        return database + "-" + stamp + ".db";
    }

    @Override
    public Standing standing() throws Trouble {
        throw noLogs();
    }

    @Override
    public Optional<String> endLog(Archive archive) throws Trouble {
        throw noLogs();
    }

    private static Trouble noLogs() {
        return new Trouble("SQLite keeps no logs that could be taken: ask for fulls more often instead");
    }
}
