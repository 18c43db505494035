package firth.runner;

import firth.core.adherence.Limits;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.model.SourceLogs;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/** What the rules of a database ask of how its backups are taken and copied. */
interface Rules {

    /** Nothing is said of it. */
    Rules NONE = database -> Asked.NOTHING;

    /** How many bytes a second may be written to a store; empty where there is no limit. */
    interface Speed {

        Speed FREE = store -> OptionalDouble.empty();

        OptionalDouble into(String store);
    }

    /**
     * What is asked now.
     *
     * @param most how fast it may go
     * @param compressed whether backups are to be compressed
     * @param afterCopies in how many stores a log must be before the runner deletes it at its source; empty: it deletes none
     */
    record Asked(Speed most, boolean compressed, Optional<Integer> afterCopies) {

        static final Asked NOTHING = new Asked(Speed.FREE, false, Optional.empty());
    }

    Asked of(String database);

    /**
     * By what Firth said last.
     *
     * @param facts lines of the exchange format: databases and policies
     * @param host the one the runner is on
     */
    static Asked of(List<String> facts, String database, String host, Instant now) throws IOException {
        if (facts.isEmpty()) {
            return Asked.NOTHING;
        }
        MemoryCatalog catalog = new MemoryCatalog();
        byte[] bytes = String.join("\n", facts).getBytes(StandardCharsets.UTF_8);
        FleetFileReader.read(new ByteArrayInputStream(bytes), "what Firth said last", catalog);
        Optional<Database> known = catalog.databases().stream()
                .map(DatabaseFacts::database)
                .filter(d -> d.id().equals(database))
                .findFirst();
        Optional<PolicyVersion> rules = known.flatMap(d -> catalog.fleet().versionAt(d, now));
        if (rules.isEmpty()) {
            return Asked.NOTHING;
        }
        Limits limits = new Limits(rules.get(), known.get().zone());
        return new Asked(
                store -> limits.at(now, Optional.of(store), Optional.of(host)),
                rules.get().demands().compressed(),
                rules.get()
                        .taking()
                        .sourceLogs()
                        .filter(l -> l.deletedBy() == SourceLogs.By.RUNNER)
                        .map(l -> l.afterCopies().orElse(1)));
    }
}
