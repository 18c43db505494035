package firth.runner.drills;

import firth.engines.sqlite.RestoredFile;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** The engine is in this program, so there is nothing to start. */
final class ScratchSqlite implements Scratch {

    private final Path files;

    ScratchSqlite(Path files) {
        this.files = files;
    }

    @Override
    public List<String> programs() {
        return List.of();
    }

    @Override
    public Map<String, String> environment() {
        return Map.of();
    }

    @Override
    public void open(Script script) throws Trouble {
        first("", "SELECT count(*) FROM sqlite_master");
    }

    /** It keeps no times. */
    @Override
    public Optional<Instant> lastChange() {
        return Optional.empty();
    }

    @Override
    public String check() throws Trouble {
        try {
            String found = file().check();
            if (!found.equals("ok")) {
                throw new Trouble("PRAGMA integrity_check: " + found);
            }
            return "PRAGMA integrity_check found nothing wrong";
        } catch (IOException e) {
            throw new Trouble("PRAGMA integrity_check: " + e.getMessage());
        }
    }

    @Override
    public Optional<String> first(String in, String sql) throws Trouble {
        try {
            return file().first(sql);
        } catch (IOException e) {
            throw new Trouble(sql + ": " + e.getMessage());
        }
    }

    private RestoredFile file() throws Trouble {
        try (Stream<Path> all = Files.list(files)) {
            List<Path> databases = all.filter(p -> !p.getFileName().toString().matches(".*-(wal|shm|journal)"))
                    .toList();
            if (databases.size() == 1) {
                return new RestoredFile(databases.get(0));
            }
            throw new Trouble("the script left " + databases.size() + " files, not one");
        } catch (IOException e) {
            throw new Trouble("what was restored cannot be listed: " + e.getMessage());
        }
    }

    @Override
    public void leave() {
        // Nothing runs.
    }

    @Override
    public void close() {
        // Nothing runs.
    }
}
