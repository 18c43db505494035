package firth.store;

import com.zaxxer.hikari.HikariDataSource;
import firth.core.history.Catalog;
import firth.core.history.Stated;
import firth.core.model.Backup;
import firth.core.record.Deed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.flywaydb.core.Flyway;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteDataSource;

/**
 * The facts Firth holds, in one SQLite file. Many may read at once, each from an unchanging view; one writes at a time,
 * all or nothing. Other processes may open the same file. Close it when it is no longer used.
 */
public final class FactStore implements AutoCloseable {

    private final HikariDataSource readers;
    private final HikariDataSource writers;
    private final Transactions transactions;
    private final Lives lives;
    /** Once it has, it has. */
    private volatile boolean reported;

    private final List<Consumer<Set<String>>> listeners = new CopyOnWriteArrayList<>();

    private FactStore(HikariDataSource readers, HikariDataSource writers) {
        this.readers = readers;
        this.writers = writers;
        this.transactions = new Transactions(writers);
        this.lives = new Lives(readers, writers);
    }

    /**
     * Opens the facts kept in a file, creating it and bringing its tables up to date where needed.
     *
     * @throws StoreFailure where the file is not one of Firth's, or cannot be written
     */
    public static FactStore open(Path file) {
        try {
            Files.createDirectories(file.toAbsolutePath().getParent());
            SQLiteDataSource writers = Connections.to(file, SQLiteConfig.TransactionMode.IMMEDIATE);
            Flyway.configure().dataSource(writers).loggers("slf4j").load().migrate();
            return new FactStore(
                    Connections.kept(Connections.to(file, SQLiteConfig.TransactionMode.DEFERRED), "readers"),
                    Connections.kept(writers, "writers"));
        } catch (IOException | org.flywaydb.core.api.FlywayException e) {
            throw new StoreFailure(
                    "The facts in " + file + " cannot be opened: is it a file of Firth's, and writable?", e);
        }
    }

    /** Ends the store: no connection to the file stays open. */
    @Override
    public void close() {
        readers.close();
        writers.close();
    }

    /** Something that hands facts to a catalog. */
    public interface Writing<R> {
        R into(Catalog catalog) throws IOException;
    }

    /** What a source delivered, for the record of how new its facts are. */
    public interface Delivery {
        String source();

        Optional<Instant> newestFact();

        /** Whether a program delivers, which is to be expected again. */
        default boolean isProgram() {
            return false;
        }

        /** The items of a purge whose outcome it is, told in the same transaction. */
        default Optional<PurgeOutcomes> purge() {
            return Optional.empty();
        }

        /** A stocktake whose finds the facts are. */
        default Optional<Stocktakes.Kept> stocktake() {
            return Optional.empty();
        }

        /** A decision about what a stocktake found that the facts follow from. */
        default Optional<Stocktakes.Decision> decision() {
            return Optional.empty();
        }

        /** Records it says are of another database, kind or lineage than was known. */
        default List<Turned.Turn> turned() {
            return List.of();
        }

        /** What of it is counted, where a program delivers, of which the record has an entry an hour. */
        default Optional<Deliveries.Came> came() {
            return Optional.empty();
        }

        /** What the record says of it; nothing where nobody did anything. */
        default Optional<Deed.Told> deed() {
            return Optional.empty();
        }
    }

    private record OfPeople(String source, Optional<Deed.Told> deed) implements Delivery {
        @Override
        public Optional<Instant> newestFact() {
            return Optional.empty();
        }
    }

    /** What became of items of a purge. */
    public record PurgeOutcomes(String purge, List<Purges.Outcome> outcomes) {}

    /**
     * Takes what somebody states, all of it or none, with the entry of the record that says so, in one transaction.
     *
     * @param source what it is to be known to come from
     */
    public void state(String source, List<Stated> records, Deed.Told deed, Instant at) {
        state(source, () -> records, r -> deed, at);
    }

    /**
     * @param stating gives the records once nobody else can write any more, so that what it goes by is so when they are taken; what it
     *     throws leaves everything as it was
     * @param deed the entry that says so
     */
    public void state(
            String source, Supplier<List<Stated>> stating, Function<List<Stated>, Deed.Told> deed, Instant at) {
        try {
            write(
                    catalog -> {
                        List<Stated> records = stating.get();
                        records.forEach(r -> catalog.put(r.record(), r.document()));
                        return records;
                    },
                    r -> new OfPeople(source, Optional.of(deed.apply(r))),
                    at);
        } catch (IOException e) {
            throw new StoreFailure("What was stated could not be written; what was there before is unharmed", e);
        }
    }

    /**
     * Takes facts in one transaction: all of them, or none where {@code writing} throws.
     *
     * @param delivery says from its result where they came from
     */
    public <R> R write(Writing<R> writing, Function<R, Delivery> delivery, Instant received) throws IOException {
        Set<String> touched = new HashSet<>();
        R written = transactions.<R, IOException>run("The facts could not be written", connection -> {
            try (SqliteCatalog catalog = new SqliteCatalog(connection)) {
                R result = writing.into(catalog);
                Delivery delivered = delivery.apply(result);
                catalog.finish(delivered, received);
                if (delivered.purge().isPresent()) {
                    PurgeOutcomes told = delivered.purge().get();
                    Purges.outcomes(connection, told.purge(), told.outcomes(), received);
                }
                if (delivered.stocktake().isPresent()) {
                    Stocktakes.keep(connection, delivered.stocktake().get());
                }
                if (delivered.decision().isPresent()) {
                    Stocktakes.decide(connection, delivered.decision().get());
                }
                Turned.note(connection, delivered.turned());
                if (delivered.came().isPresent()) {
                    Deliveries.add(connection, delivered.came().get(), received);
                }
                if (delivered.deed().isPresent()) {
                    Deeds.add(connection, delivered.deed().get(), received);
                }
                touched.addAll(catalog.touched());
                return result;
            }
        });
        listeners.forEach(l -> l.accept(touched));
        return written;
    }

    /**
     * Puts backups in the place of known ones as they are given, without merging: to undo what was taken too soon.
     *
     * @param delivery says where they came from
     */
    public void correct(List<Backup> backups, Delivery delivery, Instant received) throws IOException {
        write(
                catalog -> {
                    backups.forEach(((SqliteCatalog) catalog)::correct);
                    return delivery;
                },
                Function.identity(),
                received);
    }

    /**
     * What is said of a copy besides what it is judged by.
     *
     * @param rest as text of the exchange format
     */
    public record Said(String backup, String database, String store, String rest) {}

    /**
     * Keeps what is said anew of very many copies of which nothing else has changed; where they lie has not either.
     *
     * @param delivery says where it came from
     */
    public void say(List<Said> said, Delivery delivery, Instant received) throws IOException {
        write(
                catalog -> {
                    ((SqliteCatalog) catalog).say(said);
                    return delivery;
                },
                Function.identity(),
                received);
    }

    /**
     * Calls after every delivery that was taken, on the thread that brought it: be quick.
     *
     * @param listener takes the databases whose facts changed, and the empty name where shared records did
     */
    public void onChange(Consumer<Set<String>> listener) {
        listeners.add(listener);
    }

    /** Policies being written. */
    public Drafts drafts() {
        return new Drafts(readers, writers);
    }

    /** What was worked out of each database. */
    public KeptSummaries summaries() {
        return new KeptSummaries(readers, transactions);
    }

    /** Who may do what. */
    public People people() {
        return new People(readers, transactions);
    }

    /** Lists of copies to be deleted. */
    public Purges purges() {
        return new Purges(readers, transactions);
    }

    /** Rules by which what is obsolete goes by itself. */
    public StandingPurges standingPurges() {
        return new StandingPurges(readers);
    }

    /** Comparisons of stores with the catalog. */
    public Stocktakes stocktakes() {
        return new Stocktakes(readers, transactions);
    }

    /** What Firth made for people. */
    public Papers papers() {
        return new Papers(readers, transactions);
    }

    /** Who is told of what. */
    public Outbox outbox() {
        return new Outbox(readers, transactions);
    }

    /** Copies of all this in a directory. */
    public OwnCopies ownCopies(Path directory) {
        return new OwnCopies(readers, directory);
    }

    /** The agents of stores. */
    public Agents agents() {
        return new Agents(readers, writers);
    }

    /** The record. */
    public Deeds deeds() {
        return new Deeds(readers);
    }

    /** What programs delivered of late. */
    public Deliveries deliveries() {
        return new Deliveries(readers, transactions);
    }

    /** Records that were said to be of something else than was known. */
    public Turned turned() {
        return new Turned(readers);
    }

    /** The runners that ask for work. */
    public Runners runners() {
        return new Runners(readers, writers);
    }

    /** Whether a program ever told of anything or asked for work, so that silence means something. */
    public boolean programReported() {
        if (!reported) {
            try (Connection connection = readers.getConnection();
                    PreparedStatement select =
                            connection.prepareStatement("SELECT EXISTS (SELECT 1 FROM source WHERE program = 1)"
                                    + " OR EXISTS (SELECT 1 FROM runner) OR EXISTS (SELECT 1 FROM agent)");
                    ResultSet rows = select.executeQuery()) {
                reported = rows.next() && rows.getBoolean(1);
            } catch (SQLException e) {
                throw new StoreFailure("Whether a program ever told of anything could not be read", e);
            }
        }
        return reported;
    }

    /** The life spans of findings. */
    public Lives lives() {
        return lives;
    }

    /** An unchanging view of everything as it is now; close it soon. */
    public Snapshot read() {
        try {
            return new Snapshot(readers.getConnection());
        } catch (SQLException e) {
            throw new StoreFailure("The facts could not be read", e);
        }
    }
}
