package firth.engines;

import firth.engines.Looking.Root;
import firth.engines.Observation.Unread;
import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Looks through directories and everything below them for what engines left there. */
public final class Observer {

    private final List<Engine> engines;
    private final Keys keys;
    private final ConfigurationFiles configurations = new ConfigurationFiles();

    /** @param engines asked in this order; the first that takes a file has it */
    public Observer(List<Engine> engines) {
        this(engines, Keys.NONE);
    }

    /**
     * @param engines asked in this order; the first that takes a file has it
     * @param keys open what is encrypted
     */
    public Observer(List<Engine> engines, Keys keys) {
        this.engines = List.copyOf(engines);
        this.keys = keys;
    }

    /**
     * Links are not followed. What lies in several directories is put together: a backup in one may need the logs in another.
     *
     * @throws IOException where a directory itself cannot be looked through
     */
    public Observation observe(List<Root> roots, Known known, boolean check, Consumer<Path> progress)
            throws IOException {
        Looking looking = new Looking(roots, known, keys, check, progress);
        List<Unread> strange = new ArrayList<>();
        for (Root root : roots) {
            walk(root.directory(), strange);
        }
        List<ObservedDatabase> databases = new ArrayList<>();
        Observation last = looking.found(List.of());
        for (Engine e : engines) {
            last = e.observe(looking);
            databases.addAll(last.databases());
        }
        List<ObservedDatabase> whole = configurations.beside(databases, looking);
        last = looking.found(whole);
        strange.addAll(last.unread());
        return new Observation(whole, strange, last.filesRead(), last.bytesRead());
    }

    private void walk(Path from, List<Unread> strange) throws IOException {
        Files.walkFileTree(from, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult preVisitDirectory(Path directory, BasicFileAttributes attributes)
                    throws IOException {
                if (configurations.takesDirectory(directory)) {
                    return FileVisitResult.SKIP_SUBTREE;
                }
                for (Engine e : engines) {
                    if (e.takesDirectory(directory)) {
                        return FileVisitResult.SKIP_SUBTREE;
                    }
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) throws IOException {
                try {
                    for (Engine e : engines) {
                        if (attributes.isRegularFile() && e.takesFile(file, attributes, keys)) {
                            return FileVisitResult.CONTINUE;
                        }
                    }
                    strange.add(new Unread(file, "is no file of an engine Firth reads"));
                } catch (Keys.Closed e) {
                    strange.add(new Unread(file, String.valueOf(e.getMessage())));
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path file, IOException e) {
                strange.add(new Unread(file, "cannot be opened: " + e.getMessage()));
                return FileVisitResult.CONTINUE;
            }
        });
    }
}
