package firth.runner;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

/** One database on this host, worked with through its engine's own interfaces. */
interface Instance {

    /** What can be taken of it. */
    Set<Kind> kinds();

    /**
     * Says of itself what a probe tells (docs/exchange.md): what it can find out; what not, it leaves out.
     *
     * @param deletes whether this program is to delete the engine's own logs
     */
    void probe(ObjectNode into, boolean deletes) throws InterruptedException;

    /**
     * The server as it calls itself.
     *
     * @param engine with its version
     * @param identity the same wherever it listens, and another for another server; empty where the engine has none
     * @param lineage the one it writes to, by the engine's own number; empty where the engine has none
     * @param sockets where it listens on this host
     */
    record Server(String engine, Optional<String> identity, Optional<String> lineage, Set<Path> sockets) {}

    /**
     * A part of it.
     *
     * @param kind what the engine calls its sort
     */
    record Part(String name, String kind, double bytes) {}

    /** What it consists of, in the order of names: what a data backup of all of it holds. Empty where the engine has no parts. */
    default List<Part> parts() throws Trouble, InterruptedException {
        return List.of();
    }

    /** Whether a server has the database, and not a program that opens its file. */
    default boolean isServed() {
        return true;
    }

    /** Empty where there is no server, or it does not answer. */
    default Optional<Server> server() throws InterruptedException {
        return Optional.empty();
    }

    /** How far a run is, and how fast it may be. */
    interface Course {

        /** How many bytes it has written so far. */
        void written(long bytes);

        /** How many it may write a second; empty where there is no limit. */
        default OptionalDouble most() {
            return OptionalDouble.empty();
        }

        /** How it will lie in its store. */
        default Laying laying() {
            return Laying.PLAIN;
        }
    }

    /**
     * Takes a data backup and checks it as far as the engine can.
     *
     * @param kind one of those that can be taken
     * @param parent where the one lies that it hangs from; empty for a full
     * @param into where it is to lie: nothing is there yet
     * @return the engine's own words
     * @throws Trouble where it did not go; what lies there then is of no use
     */
    String take(Kind kind, Optional<Path> parent, Path into, Course course) throws Trouble, InterruptedException;

    /**
     * Writes down what the engine is set to, and copies the files it reads that from.
     *
     * @param into where it is to lie: nothing is there yet, and nothing is put there where the engine has no configuration
     * @return which of the files could not be read, in words; empty where all could
     */
    default String configuration(Path into) throws Trouble, IOException, InterruptedException {
        return "";
    }

    /** Whether a data backup can only be read beside logs that reach its end. */
    default boolean isReadByItsLogs() {
        return false;
    }

    /** What a data backup is called in its directory, by when it began, before it is compressed or encrypted. */
    String fileName(String database, Kind kind, String stamp);

    /** Whether it compresses what it takes itself, where that is asked for. */
    default boolean compresses() {
        return false;
    }

    /** Whether a file of a directory it took is to lie there as it is, by its path in it: the engine has to read it so. */
    default boolean liesAsItIs(Path within) {
        return false;
    }

    /**
     * Where its logs stand.
     *
     * @param mark the same as long as nothing has been committed; another each time while a transaction is under way, for its commit may
     *     stand in the log before others see it
     * @param until everything committed until then is before where the log stands
     * @param endsThere whether logs that were ended there are complete until then; else they are as they say themselves
     */
    record Standing(String mark, Instant until, boolean endsThere) {}

    /** @throws Trouble where the engine does not say */
    Standing standing() throws Trouble, InterruptedException;

    /**
     * Ends the log being written and waits until it has come to its archive.
     *
     * @return the name of the last one that has come; empty where none was being written
     * @throws Trouble where it does not come; the message says what the engine says of that
     */
    Optional<String> endLog(Archive archive) throws Trouble, InterruptedException, IOException;

    /** The files of its own logs that are ended, in order; empty where only the engine itself deletes them. */
    default List<String> endedLogs() throws Trouble, InterruptedException {
        return List.of();
    }

    /**
     * Deletes its own logs.
     *
     * @param last the last of those that go, one of {@link #endedLogs}
     */
    default void deleteLogs(String last) throws Trouble, InterruptedException {
        throw new Trouble("the engine deletes its own logs");
    }
}
