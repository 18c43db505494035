package firth.runner;

import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code firth runner}: starts on a database host what Firth says is due. */
@Command(
        name = "runner",
        mixinStandardHelpOptions = true,
        description =
                "Starts on a database host what Firth says is due, with the engine's own programs, and tells how it went:"
                        + " fulls and logs of PostgreSQL and MariaDB, fulls of SQLite.",
        footer = {"", "Runs until it is stopped. Exit status: 0 stopped, or done with --once; 2 it could not begin."})
public final class RunnerCommand implements Callable<Integer> {

    private static final long LOOKS_MS = 100;

    @Spec
    private CommandSpec spec;

    @Option(
            names = "--config",
            paramLabel = "FILE",
            required = true,
            description = "What it is to know, in TOML (docs/runner.md): its host, stores and databases.")
    private Path config;

    @Option(names = "--once", description = "Asks once, carries out what is due, and ends.")
    private boolean once;

    @Override
    public Integer call() throws InterruptedException {
        PrintWriter err = spec.commandLine().getErr();
        try {
            Settings settings = Settings.of(config);
            Runtime.getRuntime()
                    .addShutdownHook(
                            new Thread(() -> ProcessHandle.current().children().forEach(ProcessHandle::destroy)));
            Runner runner = new Runner(
                    settings,
                    new FirthLink(settings.firth(), () -> token(settings)),
                    Clock.systemUTC(),
                    what -> err.println("firth runner: " + what));
            try {
                if (once) {
                    runner.work();
                    while (runner.isBusy()) {
                        Thread.sleep(LOOKS_MS);
                    }
                    runner.work();
                } else {
                    err.println("firth runner: works on " + settings.host() + " for "
                            + String.join(", ", settings.databases().keySet()) + " (Ctrl-C stops it)");
                    runner.run();
                }
            } finally {
                runner.stop();
            }
            return 0;
        } catch (NoSuchFileException e) {
            err.println("firth runner: " + e.getMessage() + " is not there; docs/runner.md says what belongs into it.");
        } catch (Settings.Unusable | IOException e) {
            err.println("firth runner: " + e.getMessage());
        }
        return 2;
    }

    /** The token that is in force now. */
    public static String token(Settings settings) throws IOException {
        if (settings.tokenFile().isPresent()) {
            return Files.readString(settings.tokenFile().get());
        }
        String told = System.getenv("FIRTH_TOKEN");
        return told == null ? "" : told;
    }
}
