package firth.runner;

import java.io.IOException;
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

    /** Puts a log in its place that was fetched. */
    void lay(Path fetched) throws IOException {
        String name = laying.name(fetched.getFileName().toString());
        Path whole = fetched;
        if (laying.changes()) {
            whole = aside.resolve(name);
            laying.move(fetched, whole, f -> false);
        }
        StoreDirectory.place(whole, directory.resolve(name));
    }
}
