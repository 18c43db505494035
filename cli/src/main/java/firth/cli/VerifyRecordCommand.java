package firth.cli;

import firth.core.record.Chain;
import firth.exchange.RecordLines;
import firth.store.FactStore;
import firth.store.StoreFailure;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code firth verify-record}: says whether the record is whole, from Firth's own file or from what was exported. */
@Command(
        name = "verify-record",
        mixinStandardHelpOptions = true,
        description = "Walks the record of what people did and says whether every entry follows from the one before.",
        footer = {"", "Exit status: 0 whole; 1 altered, or its end is not the one expected; 2 it could not be read."})
final class VerifyRecordCommand implements Callable<Integer> {

    private static final byte[] SQLITE = "SQLite format 3".getBytes(StandardCharsets.US_ASCII);

    @Spec
    private CommandSpec spec;

    @Parameters(
            paramLabel = "FILE",
            arity = "0..1",
            defaultValue = ".firth/firth.db",
            description = "Firth's file, or an exported record; default: .firth/firth.db.")
    private Path file;

    @Option(
            names = "--expect",
            paramLabel = "HASH",
            description = "The hash an entry had that was written down elsewhere: it must still be there.")
    private @Nullable String expected;

    @Override
    public Integer call() {
        PrintWriter err = spec.commandLine().getErr();
        Chain chain = new Chain();
        boolean[] seen = new boolean[1];
        try {
            walk(chain, seen);
        } catch (IOException | StoreFailure e) {
            err.println("firth verify-record: " + file + " cannot be read: " + e.getMessage());
            return 2;
        }
        PrintWriter out = spec.commandLine().getOut();
        if (chain.broken().isPresent()) {
            out.printf(
                    Locale.ROOT,
                    "Entry %d does not fit: %s. The %d before it are whole.%n",
                    chain.broken().get().number(),
                    chain.broken().get().what(),
                    chain.length());
        } else {
            out.printf(Locale.ROOT, "All %d entries follow from one another. Last: %s%n", chain.length(), chain.head());
        }
        boolean lost = expected != null && !seen[0];
        if (lost) {
            out.printf(Locale.ROOT, "No entry has the hash %s: the record was cut off or written anew.%n", expected);
        }
        out.flush();
        return chain.broken().isPresent() || lost ? 1 : 0;
    }

    private void walk(Chain chain, boolean[] seen) throws IOException {
        if (!Files.isReadable(file)) {
            throw new IOException("there is no such file");
        }
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
            in.mark(SQLITE.length);
            byte[] head = in.readNBytes(SQLITE.length);
            in.reset();
            if (Arrays.equals(head, SQLITE)) {
                try (FactStore store = FactStore.open(file)) {
                    store.deeds().all(d -> {
                        chain.add(d);
                        seen[0] |= d.hash().equals(expected);
                    });
                }
            } else {
                RecordLines.read(in, d -> {
                    chain.add(d);
                    seen[0] |= d.hash().equals(expected);
                });
            }
        }
    }
}
