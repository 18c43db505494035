package firth.engines;

import firth.engines.Observation.Unread;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** One look through directories: what is known from before, how thoroughly, and what is said on the way. */
public final class Looking {

    private final List<Root> roots;
    private final Known known;
    private final Keys keys;
    private final boolean check;
    private final Consumer<Path> progress;
    private final List<Unread> unread = new ArrayList<>();
    private long filesRead;
    private long bytesRead;

    /**
     * @param roots what paths are told from
     * @param keys open what is encrypted
     * @param check whether the checksums of all bytes are compared
     * @param progress takes each file as it is read
     */
    public Looking(List<Root> roots, Known known, Keys keys, boolean check, Consumer<Path> progress) {
        this.roots = List.copyOf(roots);
        this.known = known;
        this.keys = keys;
        this.check = check;
        this.progress = progress;
    }

    public Known known() {
        return known;
    }

    public Keys keys() {
        return keys;
    }

    /** How a file was written. Which key opens it is tried once; of one that is gone meanwhile it stays unknown. */
    public ObservedBackup.Form form(Path file) {
        String name = file.getFileName().toString();
        return new ObservedBackup.Form(
                Packed.of(name) != Packed.PLAIN, Keys.isSealed(name) ? Optional.of(key(file)) : Optional.empty());
    }

    private String key(Path file) {
        try {
            String by = "key|" + Known.key(file, Files.readAttributes(file, BasicFileAttributes.class));
            Optional<String> before = known.get(by);
            String key = before.isPresent() ? before.get() : keys.nameFor(file);
            known.put(by, key);
            return key;
        } catch (IOException e) {
            unread(file, e);
            return "unknown";
        }
    }

    public boolean checks() {
        return check;
    }

    /**
     * A directory that is looked through, and everything below it.
     *
     * @param store the id of the store it is
     * @param directory without links in its path
     * @param from the directory paths are told from: the store's own, where that is above it
     */
    public record Root(String store, Path directory, Path from) {

        public Root(String store, Path directory) {
            this(store, directory, directory);
        }
    }

    /** A path as it is told. */
    public String path(Path file) {
        return root(file).from().relativize(file).toString();
    }

    /** The store a file lies in. */
    public String store(Path file) {
        return root(file).store();
    }

    private Root root(Path file) {
        return roots.stream()
                .filter(r -> file.startsWith(r.directory()))
                .findFirst()
                .orElseThrow();
    }

    public void reading(Path file, long bytes) {
        filesRead++;
        bytesRead += bytes;
        progress.accept(file);
    }

    /** Why a file cannot be read, as what was thrown says it; ours say it in a clause. */
    public void unread(Path file, IOException why) {
        if (why instanceof AccessDeniedException) {
            unread(file, "may not be read: let the user Firth runs as read it");
        } else if (why instanceof NoSuchFileException) {
            unread(file, "was deleted meanwhile");
        } else {
            String said = why.getMessage();
            unread(file, said == null ? "ends before it should" : said);
        }
    }

    public void unread(Path file, String reason) {
        unread.add(new Unread(file, reason));
    }

    /** What was found with what could not be read. */
    public Observation found(List<ObservedDatabase> databases) {
        return new Observation(databases, unread, filesRead, bytesRead);
    }
}
