package firth.bench;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.time.Span;
import firth.store.FactStore;
import firth.store.Snapshot;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.BiFunction;
import java.util.function.Supplier;
import java.util.stream.IntStream;

/**
 * Times, in one run and over one file, the evaluation of a whole fleet against a bare scan of its logs and the naive gap
 * query, both by the sqlite3 library, and prints the ratios. Then evaluates a fleet of 5 000 databases.
 */
public final class WholeProcess {

    private static final int LOGS_A_DATABASE = 3_360;
    private static final Duration INTERVAL = Duration.ofMinutes(15);
    /** Enough for the compiler to have settled. */
    private static final int ROUNDS = 30;

    private WholeProcess() {}

    /** @param args how many databases (default 300, about a million logs), and the file (default .firth/bench.db) */
    public static void main(String[] args) throws Exception {
        int databases = args.length > 0 ? Integer.parseInt(args[0]) : 300;
        Path file = Path.of(args.length > 1 ? args[1] : ".firth/bench-" + databases + ".db");
        make(file, databases);
        fromTheFile(file, databases);
        coreAlone(8, 100_000, BenchFleet.USUAL_GRAIN);
        coreAlone(8, 100_000, Duration.ofMillis(1));
        large(5_000);
    }

    private record From(String source, Optional<Instant> newestFact) implements FactStore.Delivery {}

    private static void make(Path file, int databases) throws IOException {
        if (Files.exists(file)) {
            return;
        }
        long begin = System.nanoTime();
        Path unfinished = file.resolveSibling(file.getFileName() + ".new");
        Files.deleteIfExists(unfinished);
        try (FactStore store = FactStore.open(unfinished)) {
            for (int d = 0; d < databases; d++) {
                String id = id(d);
                int seed = d;
                store.write(
                        catalog -> {
                            BenchFleet.backups(
                                    id, LOGS_A_DATABASE, INTERVAL, seed, BenchFleet.USUAL_GRAIN, catalog::put);
                            return id;
                        },
                        r -> new From("bench", Optional.empty()),
                        Instant.EPOCH);
            }
        }
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + unfinished);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA wal_checkpoint(TRUNCATE)");
        } catch (SQLException e) {
            throw new IOException(e);
        }
        Files.move(unfinished, file);
        say("made %s: %,d databases in %.0f s, %.0f MB", file, databases, seconds(begin), Files.size(file) / 1e6);
    }

    private static String id(int d) {
        return "db-" + d;
    }

    private static void fromTheFile(Path file, int databases) throws Exception {
        Fleet fleet = BenchFleet.fleet();
        try (FactStore store = FactStore.open(file)) {
            fromTheStore(file, store, fleet, databases);
        }
    }

    private static void fromTheStore(Path file, FactStore store, Fleet fleet, int databases) throws Exception {
        double scan = best(
                "bare scan of the logs' positions",
                () -> query(file, "SELECT count(*), sum(to_position - from_position) FROM backup WHERE kind = 'log'"));
        double naive = best(
                "naive gap query",
                () -> query(
                        file,
                        "SELECT count(*), max(gap) FROM (SELECT from_position - lag(to_position) OVER"
                                + " (PARTITION BY database ORDER BY from_position) AS gap FROM backup"
                                + " WHERE kind = 'log') WHERE gap > 0"));
        double whole = best("whole fleet from the file", () -> evaluate(store, fleet, databases));
        double rows = best("reading alone", () -> read(store, databases));
        say("whole fleet / naive gap query = %.2f (goal 0.33)", whole / naive);
        say("whole fleet / bare scan = %.2f; reading is %.0f %% of it", whole / scan, 100 * rows / whole);
    }

    /** What was counted, so that nothing can be left out. */
    private static String evaluate(FactStore store, Fleet fleet, int databases) {
        Instant end = BenchFleet.end(LOGS_A_DATABASE, INTERVAL);
        Span period = BenchFleet.period(LOGS_A_DATABASE, INTERVAL);
        return eachRead(
                        store,
                        databases,
                        (database, history) -> counted(Evaluation.of(
                                new DatabaseFacts(database, history, List.of(), List.of()), fleet, end, period)))
                .stream()
                .reduce(WholeProcess::sum)
                .map(sums -> sums[0] + " backups, " + sums[1] + " gaps, " + sums[2] + " copies judged")
                .orElse("nothing");
    }

    /** Reads one database after another; what was read is unfolded and looked at meanwhile, on all processors. */
    private static <T> List<T> eachRead(FactStore store, int databases, BiFunction<Database, History, T> look) {
        ExecutorService pool = Executors.newFixedThreadPool(Runtime.getRuntime().availableProcessors());
        try (Snapshot snapshot = store.read()) {
            List<CompletableFuture<T>> out = new ArrayList<>();
            for (int d = 0; d < databases; d++) {
                Database database = BenchFleet.database(id(d));
                Supplier<History> history = snapshot.historyLater(database, List.of(database.id()));
                out.add(CompletableFuture.supplyAsync(() -> look.apply(database, history.get()), pool));
            }
            return out.stream().map(CompletableFuture::join).toList();
        } finally {
            pool.shutdown();
        }
    }

    private static long[] counted(Evaluation e) {
        return new long[] {e.history().size(), e.gaps().size(), e.retention().size()};
    }

    private static long[] sum(long[] one, long[] other) {
        return IntStream.range(0, one.length).mapToLong(n -> one[n] + other[n]).toArray();
    }

    private static String read(FactStore store, int databases) {
        return eachRead(store, databases, (database, history) -> history.size()).stream()
                        .mapToLong(n -> n)
                        .sum()
                + " backups";
    }

    private static String query(Path file, String sql) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getLong(1) + ", " + row.getLong(2);
        }
    }

    /** Times something a few times and gives the best, in seconds. */
    private static double best(String what, Callable<String> work) throws Exception {
        double first = 0;
        double best = Double.MAX_VALUE;
        String result = "";
        for (int round = 0; round < ROUNDS; round++) {
            long begin = System.nanoTime();
            result = work.call();
            double took = seconds(begin);
            first = round == 0 ? took : first;
            best = Math.min(best, took);
        }
        say("%-36s %8.3f s, at first %.3f s   (%s)", what, best, first, result);
        return best;
    }

    /** Databases held in memory as columns, evaluated on all processors; nothing is read or made meanwhile. */
    private static void coreAlone(int databases, int logs, Duration grain) throws Exception {
        Fleet fleet = BenchFleet.fleet();
        Duration interval = Duration.ofDays(35).dividedBy(logs);
        List<DatabaseFacts> facts = IntStream.range(0, databases)
                .mapToObj(d -> BenchFleet.facts(id(d), logs, interval, d, grain))
                .toList();
        Instant end = BenchFleet.end(logs, interval);
        Span period = BenchFleet.period(logs, interval);
        double took = best(
                "core alone, moments to " + grain,
                () -> facts.parallelStream()
                                .mapToLong(f -> counted(Evaluation.of(f, fleet, end, period))[1])
                                .sum()
                        + " gaps");
        say(
                "%,d databases of %,d logs in memory: %,.0f logs a second on %d processors",
                databases,
                logs,
                (double) databases * logs / took,
                Runtime.getRuntime().availableProcessors());
        DatabaseFacts one = facts.get(0);
        double alone = best(
                "one database of them by itself", () -> counted(Evaluation.of(one, fleet, end, period))[1] + " gaps");
        say("one database of %,d logs evaluated anew: %.1f ms", logs, 1e3 * alone);
    }

    /** A large fleet, each database made, evaluated and let go: whether it fits is up to the heap the process was given. */
    private static void large(int databases) {
        Fleet fleet = BenchFleet.fleet();
        Instant end = BenchFleet.end(LOGS_A_DATABASE, INTERVAL);
        Span period = BenchFleet.period(LOGS_A_DATABASE, INTERVAL);
        LongAdder evaluating = new LongAdder();
        long begin = System.nanoTime();
        long backups = IntStream.range(0, databases)
                .parallel()
                .mapToLong(d -> {
                    DatabaseFacts facts = BenchFleet.facts(id(d), LOGS_A_DATABASE, INTERVAL, d);
                    long start = System.nanoTime();
                    long count = counted(Evaluation.of(facts, fleet, end, period))[0];
                    evaluating.add(System.nanoTime() - start);
                    return count;
                })
                .sum();
        say(
                "%,d databases, %,d backups: %.1f s with making them; evaluating took %.1f s of one thread, %,.0f backups a"
                        + " second; heap at most %,d MB",
                databases,
                backups,
                seconds(begin),
                evaluating.sum() / 1e9,
                backups / (evaluating.sum() / 1e9),
                Runtime.getRuntime().maxMemory() >> 20);
    }

    private static double seconds(long since) {
        return (System.nanoTime() - since) / 1e9;
    }

    private static void say(String format, Object... values) {
        System.out.printf(Locale.ROOT, format + "%n", values);
    }
}
