package firth.runner.drills;

import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code firth restore}: carries out a restore that somebody began on the Restore page. */
@Command(
        name = "restore",
        mixinStandardHelpOptions = true,
        description =
                "Carries out a restore that was begun in Firth, by its script, into a directory of this host: has the engine"
                        + " replay its logs and check what came of it, stops it, and tells Firth all along how far it is."
                        + " PostgreSQL, MariaDB and SQLite.",
        footer = {
            "",
            "Exit status: 0 it is open and was proved; 1 it failed, or cannot be tried here; 2 it could not begin."
        })
public final class RestoreCommand extends HostCommand {

    @Parameters(paramLabel = "RESTORE", description = "Its id, as its page shows it.")
    private String restore;

    @Option(
            names = "--into",
            paramLabel = "DIR",
            required = true,
            description =
                    "Where the files of the restored database are to lie: a directory that is empty or not there.")
    private Path into;

    @Option(
            names = "--over",
            paramLabel = "NAME",
            description = "The name of the database whose files lie there now, where it was begun over the old one."
                    + " They are set aside and not removed.")
    private Optional<String> over = Optional.empty();

    @Override
    String wrong() {
        return into.isAbsolute() ? "" : "--into " + into + " is not named from the root.";
    }

    @Override
    int on(Host host) throws IOException, InterruptedException, FirthLink.Refused {
        Restoring restoring = new Restoring(
                host, new Restoring.Order(restore, into.normalize(), over), Clock.systemUTC(), this::says);
        Runtime.getRuntime().addShutdownHook(new Thread(restoring::stop));
        try {
            return restoring.carryOut() ? 0 : 1;
        } catch (Untried e) {
            says(restore + " is not carried out: " + e.getMessage());
            return 1;
        }
    }
}
