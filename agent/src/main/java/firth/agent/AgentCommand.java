package firth.agent;

import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.format.DateTimeParseException;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** {@code firth agent}: lists a store that is a directory, and deletes there what Firth has proved and signed. */
@Command(
        name = "agent",
        mixinStandardHelpOptions = true,
        description =
                "Works for one store that is a directory or a mount: lists what lies there when Firth asks,"
                        + " deletes what Firth has proved and signed, tells how much room is left, and lays recovery sheets beside the backups.",
        footer = {"", "Runs until it is stopped. Exit status: 0 stopped, or done with --once; 2 it could not begin."})
public final class AgentCommand implements Callable<Integer> {

    @Spec
    private CommandSpec spec;

    @Option(names = "--store", paramLabel = "ID", required = true, description = "The store, as Firth knows it.")
    private String store;

    @Option(
            names = "--root",
            paramLabel = "DIR",
            required = true,
            description = "The directory it is. Nothing outside of it is ever touched.")
    private Path root;

    @Option(
            names = "--to",
            paramLabel = "URL",
            defaultValue = "http://127.0.0.1:8640",
            description = "Where Firth runs; default: ${DEFAULT-VALUE}.")
    private URI to;

    @Option(
            names = "--token-file",
            paramLabel = "FILE",
            description =
                    "Holds the token with the role agent, bound to this store; default: the value of FIRTH_TOKEN.")
    private @Nullable Path tokenFile;

    @Option(
            names = "--state",
            paramLabel = "DIR",
            description = "Where it keeps its notes and checksums, outside of the store; default: .firth/agent-ID.")
    private @Nullable Path state;

    @Option(
            names = "--every",
            paramLabel = "DURATION",
            defaultValue = "PT10S",
            description = "How often it asks, from PT1S to P1D; default: ${DEFAULT-VALUE}.")
    private String every;

    @Option(
            names = "--read-rate",
            paramLabel = "BYTES",
            defaultValue = "0",
            description = "Reads no more than this a second for checksums; default: as fast as it goes.")
    private double readRate;

    @Option(
            names = "--delete-rate",
            paramLabel = "N",
            defaultValue = "0",
            description = "Deletes no more than so many copies a second; default: as fast as it goes.")
    private double deleteRate;

    @Option(
            names = "--writes-nothing",
            description = "Does not try whether the store can be written to, and lays no recovery sheets.")
    private boolean writesNothing;

    @Option(names = "--once", description = "Asks and works once, and ends.")
    private boolean once;

    @Override
    public Integer call() throws InterruptedException {
        PrintWriter err = spec.commandLine().getErr();
        Path kept = state == null ? Path.of(".firth", "agent-" + store.replaceAll("[^A-Za-z0-9._-]", "_")) : state;
        Agent agent;
        try {
            Files.createDirectories(kept);
            Directory directory = Directory.at(
                    root, kept.resolve("sums"), new Directory.Limits(readRate, deleteRate, !writesNothing));
            if (kept.toRealPath().startsWith(root.toRealPath())) {
                throw new ParameterException(
                        spec.commandLine(), "--state lies within the store; name a directory outside of " + root + ".");
            }
            agent = new Agent(
                    new FirthLink(to, this::token),
                    store,
                    directory,
                    kept,
                    asks(),
                    Clock.systemUTC(),
                    what -> err.println("firth agent: " + what));
        } catch (IOException e) {
            err.println("firth agent: " + e.getMessage());
            return 2;
        }
        if (once) {
            agent.work();
        } else {
            err.println("firth agent: works for " + store + " at " + root.toAbsolutePath() + " (Ctrl-C stops it)");
            agent.run();
        }
        return 0;
    }

    private String token() throws IOException {
        if (tokenFile != null) {
            return Files.readString(tokenFile);
        }
        String told = System.getenv("FIRTH_TOKEN");
        return told == null ? "" : told;
    }

    private Duration asks() {
        try {
            Duration asks = Duration.parse(every);
            if (asks.compareTo(Duration.ofSeconds(1)) >= 0 && asks.compareTo(Duration.ofDays(1)) <= 0) {
                return asks;
            }
        } catch (DateTimeParseException e) {
            throw new ParameterException(spec.commandLine(), "--every " + every + " is no duration such as PT10S.", e);
        }
        throw new ParameterException(spec.commandLine(), "--every is from PT1S to P1D.");
    }
}
