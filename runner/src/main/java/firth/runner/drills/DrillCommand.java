package firth.runner.drills;

import firth.exchange.link.FirthLink;
import firth.runner.RunnerCommand;
import firth.runner.Settings;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

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
public final class DrillCommand implements Callable<Integer> {

    @Spec
    private CommandSpec spec;

    @Option(
            names = "--config",
            paramLabel = "FILE",
            required = true,
            description = "The file of a runner with [drills] in it (docs/drills.md).")
    private Path config;

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

    @Override
    public Integer call() throws InterruptedException {
        PrintWriter err = spec.commandLine().getErr();
        if (all != databases.isEmpty()) {
            err.println("firth drill: name databases, or say --all for the whole fleet.");
            return 2;
        }
        try {
            Settings settings = Settings.of(config);
            Settings.Drilling drilling = settings.drills()
                    .orElseThrow(() ->
                            new IOException(config + " has no [drills]: docs/drills.md says what belongs into it."));
            Path lock = Files.createDirectories(settings.state()).resolve("drill.lock");
            try (FileChannel channel = FileChannel.open(lock, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
                    FileLock alone = channel.tryLock()) {
                if (alone == null) {
                    err.println("firth drill: another one is at work here.");
                    return 2;
                }
                FirthLink firth = new FirthLink(settings.firth(), () -> RunnerCommand.token(settings));
                DrillHost host = new DrillHost(
                        settings, drilling, firth, Clock.systemUTC(), what -> err.println("firth drill: " + what));
                Runtime.getRuntime().addShutdownHook(new Thread(host::stop));
                DrillHost.Ended ended = host.drill(new DrillHost.Wanted(databases, within));
                return ended.failed() + ended.untried() > 0 ? 1 : 0;
            }
        } catch (Settings.Unusable | IOException | FirthLink.Refused e) {
            err.println("firth drill: " + e.getMessage());
            return 2;
        }
    }
}
