package firth.runner;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Where the logs of a database come to.
 *
 * @param directory in a store
 * @param fetching where something may be fetched to first: whatever is left there is taken away
 * @param aside in the store, where something is written before it lies in its place; whatever is left there is taken away
 * @param laying how logs are written that are fetched
 */
record Archive(Path directory, Path fetching, Path aside, Laying laying) {

    /** Puts a log in its place that was fetched, a file or a directory. One that is there already is the same, and is not laid again. */
    void lay(Path fetched) throws IOException {
        String file = fetched.getFileName().toString();
        String name = Files.isDirectory(fetched) ? file : laying.name(file);
        Path to = directory.resolve(name);
        if (Files.isDirectory(fetched) && Files.exists(to)) {
            StoreDirectory.remove(fetched);
            return;
        }
        if (!laying.changes() && fetched.startsWith(fetching)) {
            StoreDirectory.place(fetched, to);
            return;
        }
        Path whole = aside.resolve(name);
        StoreDirectory.remove(whole);
        laying.copy(fetched, whole, f -> false);
        StoreDirectory.place(whole, to);
        StoreDirectory.remove(fetched);
    }
}
