package firth.cli;

import firth.store.OwnCopies;
import firth.store.StoreFailure;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code firth restore-self}: puts a copy of Firth's own facts in their place. */
@Command(
        name = "restore-self",
        mixinStandardHelpOptions = true,
        description =
                "Checks a copy of Firth's own facts and puts it in their place. Stop Firth first. What was there is kept beside it.",
        footer = {"", "Exit status: 0 done; 1 the copy is not whole, and nothing was changed."})
final class RestoreSelfCommand implements Callable<Integer> {

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "FILE", description = "The copy.")
    private Path copy;

    @Option(
            names = "--data",
            paramLabel = "FILE",
            defaultValue = ".firth/firth.db",
            description = "What it takes the place of; default: .firth/firth.db.")
    private Path data;

    @Override
    public Integer call() {
        PrintWriter out = spec.commandLine().getOut();
        try {
            Optional<Path> aside = OwnCopies.restore(copy, data, Instant.now().truncatedTo(ChronoUnit.SECONDS));
            out.println(data + " is the copy " + copy + " now.");
            aside.ifPresent(a -> out.println("What was there is kept as " + a + "."));
            return 0;
        } catch (StoreFailure e) {
            spec.commandLine().getErr().println("firth restore-self: " + e.getMessage());
            return 1;
        }
    }
}
