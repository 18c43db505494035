package firth.agent;

import java.io.IOException;
import java.nio.file.Path;
import java.util.function.Function;

/** What keeps the files of a directory from being deleted, as far as the store tells. */
@FunctionalInterface
public interface Locks {

    /**
     * The locks in one directory, by the name of what lies in it.
     *
     * @param from the directory as paths of copies have it: without a slash at its end, empty for the root
     * @param at where it lies
     */
    Function<String, Lock> in(String from, Path at) throws IOException, InterruptedException;

    /** What keeps one of them. */
    default Lock of(String from, Path at, String name) throws IOException, InterruptedException {
        return in(from, at).apply(name);
    }
}
