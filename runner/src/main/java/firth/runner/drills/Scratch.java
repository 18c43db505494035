package firth.runner.drills;

import firth.runner.Settings;
import firth.runner.Trouble;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * An engine of a drill's own, over what a plan's script restored. Nobody but the drill reaches it, it archives nothing and it
 * takes part in nothing; it is gone when it is closed.
 */
interface Scratch extends AutoCloseable {

    /** What has to be installed to try it at all. */
    List<String> programs();

    /** What the scripts of plans are to find in their environment to use this engine's programs. */
    Map<String, String> environment();

    /** Starts the engine on the files, and has the script's second part applied where it has one; the database is open then. */
    void open(Script script) throws Trouble, Untried, InterruptedException;

    /** The moment of the last change in it, as the engine itself says; empty where it says none. */
    Optional<Instant> lastChange() throws Trouble, InterruptedException;

    /** Has the engine check all of what it holds; gives what was done, in words. */
    String check() throws Trouble, InterruptedException;

    /** The first value of the first row a statement gives; empty where there is none. */
    Optional<String> first(String in, String sql) throws Trouble, InterruptedException;

    @Override
    void close();

    /** The script of a plan over the place it restores to. */
    interface Script {

        /** Runs a later part of it. */
        void again(List<String> arguments) throws Trouble, InterruptedException;
    }

    /**
     * One of an engine, in a directory of the drill's own.
     *
     * @param files where the script restored to
     */
    static Optional<Scratch> of(String engine, Path directory, Path files, Settings.Drilling drilling) {
        Optional<Path> programs = Optional.ofNullable(drilling.programs().get(engine));
        return switch (engine) {
            case "postgresql" -> Optional.of(new ScratchPostgres(directory, files, drilling.superuser(), programs));
            case "mariadb" -> Optional.of(new ScratchMariadb(directory, files, programs));
            case "sqlite" -> Optional.of(new ScratchSqlite(files));
            default -> Optional.empty();
        };
    }
}
