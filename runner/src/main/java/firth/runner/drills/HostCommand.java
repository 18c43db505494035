package firth.runner.drills;

import firth.exchange.link.FirthLink;
import firth.runner.RunnerCommand;
import firth.runner.Settings;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.concurrent.Callable;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** What the commands of a host that restores have in common: its file, and that each is at work once at a time. */
abstract class HostCommand implements Callable<Integer> {

    static final int COULD_NOT_BEGIN = 2;

    @Spec
    private CommandSpec spec;

    @Option(
            names = "--config",
            paramLabel = "FILE",
            required = true,
            description = "The file of a runner with [drills] in it (docs/drills.md).")
    private Path config;

    /** The host, and the Firth it works for. */
    record Host(Settings settings, Settings.Drilling drilling, FirthLink firth) {}

    /** Does it; gives the exit status. */
    abstract int on(Host host) throws IOException, InterruptedException, FirthLink.Refused;

    /** What is wrong with how it was called; empty: nothing. */
    String wrong() {
        return "";
    }

    void says(String what) {
        spec.commandLine().getErr().println("firth " + spec.name() + ": " + what);
    }

    @Override
    public final Integer call() throws InterruptedException {
        if (!wrong().isEmpty()) {
            says(wrong());
            return COULD_NOT_BEGIN;
        }
        try {
            Settings settings = Settings.of(config);
            Settings.Drilling drilling = settings.drills()
                    .orElseThrow(() ->
                            new IOException(config + " has no [drills]: docs/drills.md says what belongs into it."));
            Path lock = Files.createDirectories(settings.state()).resolve(spec.name() + ".lock");
            try (FileChannel channel = FileChannel.open(lock, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
                    FileLock alone = channel.tryLock()) {
                if (alone == null) {
                    says("another one is at work here.");
                    return COULD_NOT_BEGIN;
                }
                return on(new Host(
                        settings, drilling, new FirthLink(settings.firth(), () -> RunnerCommand.token(settings))));
            }
        } catch (Settings.Unusable | IOException | FirthLink.Refused e) {
            says(String.valueOf(e.getMessage()));
            return COULD_NOT_BEGIN;
        }
    }
}
