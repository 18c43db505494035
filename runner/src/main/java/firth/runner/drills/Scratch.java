package firth.runner.drills;

import firth.runner.Program;
import firth.runner.Settings;
import firth.runner.Trouble;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * An engine of a restore's own, over what a plan's script restored. Nobody but the restore reaches it, it archives nothing and it
 * takes part in nothing; it is gone when it is closed.
 */
interface Scratch extends AutoCloseable {

    /**
     * Where it is.
     *
     * @param directory its own, gone when all is done
     * @param files where the script restores to
     * @param kept whether the files are to be used afterwards, so that nothing may be left in them, and nothing lost with the host
     */
    record Place(Path directory, Path files, boolean kept) {}

    /** What has to be installed to try it at all. */
    List<String> programs();

    /** That all of it is. */
    default void areThere() throws Untried {
        for (String program : programs()) {
            if (!Program.isThere(program)) {
                throw new Untried(program + " is not installed here; drills.programs says where else it may be");
            }
        }
    }

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

    /** How many of the plan's logs it has applied so far; empty where it does not tell. */
    default OptionalLong applied() {
        return OptionalLong.empty();
    }

    /** Up to which position it applied logs, where it says; its new lineage goes on from there. */
    default OptionalLong forkedAt() throws Trouble {
        return OptionalLong.empty();
    }

    /** Stops it in order, and takes away what is its own, so that a server can be started over the files. */
    void leave() throws Trouble, InterruptedException;

    /** Stops it at once, however that leaves the files. */
    @Override
    void close();

    /** The script of a plan over the place it restores to. */
    interface Script {

        /** Runs a later part of it. */
        void again(List<String> arguments) throws Trouble, InterruptedException;
    }

    /** One of an engine. */
    static Scratch of(String engine, Place place, Settings.Drilling drilling) throws Untried {
        Optional<Path> programs = Optional.ofNullable(drilling.programs().get(engine));
        return switch (engine) {
            case "postgresql" -> new ScratchPostgres(place, drilling.superuser(), programs);
            case "mariadb" -> new ScratchMariadb(place, programs);
            case "sqlite" -> new ScratchSqlite(place.files());
            default -> throw new Untried("this program knows no " + engine);
        };
    }
}
