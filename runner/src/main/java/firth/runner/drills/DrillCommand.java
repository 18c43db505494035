package firth.runner.drills;

import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code firth drill}: restores what Firth proposes, has the engine prove it, and tells how it went. */
@Command(
        name = "drill",
        mixinStandardHelpOptions = true,
        description =
                "Restores databases to moments Firth proposes, each in a place of its own, has the engine prove what came of it,"
                        + " and tells how it went: PostgreSQL, MariaDB and SQLite.",
        footer = {
            "",
            "Exit status: 0 all that were tried were proved; 1 one failed, or could not be tried here; 2 it could not begin."
        })
public final class DrillCommand extends HostCommand {

    private static final int MOST = 1000;

    @Parameters(paramLabel = "DATABASE", arity = "0..*", description = "Those alone, by id.")
    private List<String> databases = List.of();

    @Option(names = "--all", description = "All of the fleet.")
    private boolean all;

    @Option(
            names = "--within",
            paramLabel = "DURATION",
            description =
                    "Of them those that were not proved for so long, such as P7D, or whose drill is due or failed last. By default the latter alone, or those named.")
    private Optional<Duration> within = Optional.empty();

    @Option(
            names = "--times",
            paramLabel = "N",
            defaultValue = "1",
            description = "Proves so many moments of each, one after the other; 1 by default, 1000 at most.")
    private int times;

    @Override
    String wrong() {
        if (times < 1 || times > MOST) {
            return "--times takes a number from 1 to " + MOST + ".";
        }
        return all != databases.isEmpty() ? "name databases, or say --all for the whole fleet." : "";
    }

    @Override
    int on(Host host) throws IOException, InterruptedException, FirthLink.Refused {
        DrillHost drills = new DrillHost(host.settings(), host.drilling(), host.firth(), Clock.systemUTC(), this::says);
        Runtime.getRuntime().addShutdownHook(new Thread(drills::stop));
        DrillHost.Ended ended = drills.drill(new DrillHost.Wanted(databases, within, times));
        return ended.failed() + ended.untried() > 0 ? 1 : 0;
    }
}
