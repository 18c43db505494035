package firth.engines.sqlite;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.Observer;
import firth.engines.Recipe;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Copied while another program writes, which moves its log into the file as often as it can. */
class KeptLogTest {

    private static final long SEED = 20261130;

    @TempDir
    private Path directory;

    private Path file;
    private Path store;
    private Writer writer;
    private final List<Row> truth = new ArrayList<>();
    private KeptLog log;

    /** When a row was committed: after {@code before}, and before {@code after}. */
    private record Row(int n, Instant before, Instant after) {}

    /** The engine's own program, which answers once it has committed. */
    private static final class Writer implements AutoCloseable {
        private final Process program;
        private final PrintWriter asks;
        private final BufferedReader answers;

        Writer(Path file) throws IOException {
            program = new ProcessBuilder("sqlite3", "-batch", file.toString())
                    .redirectErrorStream(true)
                    .start();
            asks = new PrintWriter(program.outputWriter(StandardCharsets.UTF_8), true);
            answers = program.inputReader(StandardCharsets.UTF_8);
            asks.println(".timeout 20000");
        }

        String ask(String sql) throws IOException {
            asks.println(sql + "; select 'done';");
            StringBuilder out = new StringBuilder();
            for (String line = answers.readLine(); !"done".equals(line); line = answers.readLine()) {
                out.append(line);
            }
            return out.toString();
        }

        @Override
        public void close() throws IOException {
            asks.close();
            program.destroyForcibly();
        }
    }

    @BeforeEach
    void layOut() throws IOException {
        file = directory.resolve("sheds.db");
        store = Files.createDirectory(directory.resolve("store"));
        writer = new Writer(file);
        assertEquals("wal", writer.ask("pragma journal_mode = wal"));
        writer.ask("create table truth(n integer primary key, pad text)");
        writer.ask("pragma wal_autocheckpoint = 10");
    }

    @AfterEach
    void close() throws IOException {
        writer.close();
        if (log != null) {
            log.close();
        }
    }

    private void keep() throws IOException {
        log = KeptLog.of("sheds", file, directory.resolve("spool"), Clock.systemUTC());
    }

    private void row() throws IOException {
        int n = truth.size() + 1;
        Instant before = Instant.now();
        assertEquals("", writer.ask("insert into truth values (" + n + ", hex(randomblob(2000)))"));
        truth.add(new Row(n, before, Instant.now()));
    }

    private void take() throws IOException {
        for (Path piece : log.pieces()) {
            Files.move(piece, store.resolve(piece.getFileName()));
        }
    }

    private void copy(String name) throws IOException {
        log.copy(store.resolve(name), KeptLogTest::inAnotherProgram);
        take();
    }

    private static void inAnotherProgram(Path from, Path to) throws IOException {
        try {
            assertEquals(
                    0,
                    new ProcessBuilder("cp", from.toString(), to.toString())
                            .start()
                            .waitFor());
        } catch (InterruptedException e) {
            throw new IOException(e);
        }
    }

    private List<ObservedBackup> found(Kind kind) throws IOException {
        Path root = store.toRealPath();
        Observation seen = new Observer(List.of(new SqliteFiles()))
                .observe(List.of(new Root("near", root)), Known.nothing(), true, p -> {});
        assertEquals(List.of(), seen.unread());
        assertEquals(1, seen.databases().size());
        List<ObservedBackup> out = new ArrayList<>(seen.databases().get(0).backups());
        out.forEach(b -> assertEquals(Optional.empty(), b.wrong(), b.path()));
        out.removeIf(b -> b.kind() != kind);
        out.sort(Comparator.comparing(b -> b.positions().orElseThrow().to()));
        return out;
    }

    /** The rows there are once it was restored to a moment from a copy. */
    private NavigableSet<Integer> restored(ObservedBackup base, List<ObservedBackup> logs, Instant moment)
            throws Exception {
        List<Recipe.Part> parts = logs.stream()
                .filter(l -> l.positions().orElseThrow().from()
                        >= base.positions().orElseThrow().to())
                .filter(l -> l.times().orElseThrow().from().isBefore(moment))
                .map(l -> new Recipe.Part(Kind.LOG, "near", l.path()))
                .toList();
        Recipe recipe = new SqliteRecipe()
                .recipe(new Recipe.Ask(
                        "sheds",
                        Optional.of(moment),
                        Optional.empty(),
                        OptionalLong.empty(),
                        "1",
                        List.of(new Recipe.Part(Kind.FULL, "near", base.path())),
                        parts,
                        Optional.empty()))
                .orElseThrow();
        Path script = Files.writeString(directory.resolve("restore.sh"), recipe.script());
        Path into = directory.resolve("restored");
        ProcessBuilder shell = new ProcessBuilder("sh", script.toString(), into.toString()).redirectErrorStream(true);
        shell.environment().put("STORE_1", store.toString());
        Process process = shell.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertEquals(0, process.waitFor(), said);
        NavigableSet<Integer> out = new TreeSet<>();
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + into.resolve("sheds.db"));
                Statement s = c.createStatement()) {
            try (ResultSet check = s.executeQuery("pragma integrity_check")) {
                assertEquals("ok", check.getString(1));
            }
            try (ResultSet rows = s.executeQuery("select n from truth")) {
                while (rows.next()) {
                    out.add(rows.getInt(1));
                }
            }
        }
        try (Stream<Path> left = Files.list(into)) {
            assertEquals(List.of(into.resolve("sheds.db")), left.toList(), "and nothing beside it");
        }
        Files.delete(into.resolve("sheds.db"));
        Files.delete(into);
        return out;
    }

    /** All that had been committed long enough before is there, and nothing that was committed later. */
    private void holds(NavigableSet<Integer> rows, Instant moment, Instant seenBy) {
        for (Row r : truth) {
            if (r.after.isBefore(seenBy)) {
                assertTrue(rows.contains(r.n), r + " was committed before " + seenBy);
            }
            if (!r.before.isBefore(moment.plusMillis(1))) {
                assertFalse(rows.contains(r.n), r + " was committed after " + moment);
            }
        }
        assertEquals(rows.size(), rows.isEmpty() ? 0 : rows.last(), "whichever it is, none is left out between");
    }

    @Test
    void whatWasCopiedRestoresEveryMoment() throws Exception {
        keep();
        copy("base-1");
        AtomicBoolean going = new AtomicBoolean(true);
        ExecutorService beside = Executors.newFixedThreadPool(2);
        Future<?> writes = beside.submit(() -> {
            Random random = new Random(SEED);
            while (going.get()) {
                row();
                Thread.sleep(random.nextInt(8));
            }
            return null;
        });
        Future<?> watches = beside.submit(() -> {
            while (going.get()) {
                log.watch();
                Thread.sleep(20);
            }
            return null;
        });
        for (int round = 0; round < 12; round++) {
            Thread.sleep(150);
            if (round == 6) {
                copy("base-2");
            } else {
                log.cut();
                take();
            }
        }
        going.set(false);
        writes.get();
        watches.get();
        beside.shutdown();
        assertTrue(beside.awaitTermination(10, TimeUnit.SECONDS));
        log.cut();
        take();
        List<ObservedBackup> bases = found(Kind.FULL);
        List<ObservedBackup> logs = found(Kind.LOG);
        assertEquals(2, bases.size());
        for (int i = 1; i < logs.size(); i++) {
            assertEquals(
                    logs.get(i - 1).positions().orElseThrow().to(),
                    logs.get(i).positions().orElseThrow().from(),
                    "one follows the other");
        }
        Instant end = logs.get(logs.size() - 1).times().orElseThrow().to();
        assertEquals(truth.size(), restored(bases.get(0), logs, end).size(), "all of it");
        for (ObservedBackup log : logs) {
            Instant boundary = log.times().orElseThrow().to();
            holds(restored(bases.get(0), logs, boundary), boundary, boundary);
        }
        Random random = new Random(SEED);
        Instant begin = bases.get(0).consistentAt();
        for (int i = 0; i < 25; i++) {
            Instant moment = begin.plusMillis(random.nextLong(end.toEpochMilli() - begin.toEpochMilli()));
            for (ObservedBackup base : bases) {
                if (!base.consistentAt().isAfter(moment)) {
                    holds(restored(base, logs, moment), moment, moment.minusMillis(400));
                }
            }
        }
    }

    @Test
    void whatTheOtherProgramMovedWhileNobodyKeptItIsAGap() throws Exception {
        keep();
        row();
        log.cut();
        row();
        log.watch();
        log.close();
        row();
        keep();
        take();
        List<ObservedBackup> logs = found(Kind.LOG);
        assertEquals(2, logs.size(), "the log was still the same, and all of it was there");
        assertEquals(
                logs.get(0).positions().orElseThrow().to(),
                logs.get(1).positions().orElseThrow().from());
        log.close();
        row();
        writer.ask("pragma wal_checkpoint(truncate)");
        row();
        keep();
        row();
        log.cut();
        take();
        logs = found(Kind.LOG);
        assertEquals(3, logs.size());
        assertTrue(
                logs.get(1).positions().orElseThrow().to()
                        < logs.get(2).positions().orElseThrow().from(),
                "nothing joins them");
    }

    private void laidAndNotNoted() throws IOException {
        keep();
        take();
        row();
        log.watch();
        Path state = directory.resolve("spool/state");
        byte[] before = Files.readAllBytes(state);
        log.cut();
        assertEquals(1, log.pieces().size());
        log.close();
        Files.write(state, before);
    }

    /** Killed once a piece was laid and before that was noted. */
    @Test
    void aPieceThatWasLaidAndNotNotedIsLaidAgainOrJoinsNothing() throws Exception {
        row();
        try (Connection old = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement s = old.createStatement()) {
            // While it reads, nothing of the log can be moved.
            s.execute("begin");
            s.executeQuery("select * from truth").close();
            laidAndNotNoted();
            row();
            keep();
            assertEquals(1, log.pieces().size(), "it is laid again");
            row();
            log.cut();
            take();
            log.close();
        }
        laidAndNotNoted();
        row();
        writer.ask("pragma wal_checkpoint(truncate)");
        keep();
        row();
        log.cut();
        take();
        List<ObservedBackup> logs = found(Kind.LOG);
        assertEquals(4, logs.size());
        assertEquals(
                logs.get(0).positions().orElseThrow().to(),
                logs.get(1).positions().orElseThrow().from(),
                "it was all there");
        assertTrue(
                logs.get(2).positions().orElseThrow().to()
                        < logs.get(3).positions().orElseThrow().from(),
                "what came after it is lost");
    }

    @Test
    void aReaderOfAnOldStateKeepsTheFileFromBeingCopiedAndNotItsLog() throws Exception {
        row();
        try (Connection old = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement s = old.createStatement()) {
            s.execute("begin");
            s.executeQuery("select * from truth").close();
            row();
            keep();
            String why = assertThrows(IOException.class, () -> copy("base-1")).getMessage();
            assertTrue(why.startsWith("somebody reads an old state of "), why);
            row();
            log.cut();
            s.execute("rollback");
        }
        row();
        copy("base-2");
        row();
        log.cut();
        take();
        List<ObservedBackup> logs = found(Kind.LOG);
        ObservedBackup base = found(Kind.FULL).get(0);
        Instant end = logs.get(logs.size() - 1).times().orElseThrow().to();
        assertEquals(truth.size(), restored(base, logs, end).size());
    }

    @Test
    void aFileWithoutSuchALogIsNamed() throws Exception {
        writer.ask("pragma journal_mode = delete");
        assertTrue(assertThrows(IOException.class, this::keep)
                .getMessage()
                .endsWith("is written without a write-ahead log: its journal_mode is delete, not wal"));
    }

    @Test
    void aPieceThatWasCutOffIsFound() throws Exception {
        keep();
        copy("base-1");
        row();
        log.cut();
        take();
        Path wal;
        try (Stream<Path> all = Files.walk(store)) {
            wal = all.filter(p -> p.endsWith("wal")).findFirst().orElseThrow();
        }
        byte[] whole = Files.readAllBytes(wal);
        Files.write(wal, java.util.Arrays.copyOf(whole, whole.length - 1));
        Observation seen = new Observer(List.of(new SqliteFiles()))
                .observe(List.of(new Root("near", store.toRealPath())), Known.nothing(), false, p -> {});
        ObservedBackup piece = seen.databases().get(0).backups().stream()
                .filter(b -> b.kind() == Kind.LOG)
                .findFirst()
                .orElseThrow();
        assertTrue(piece.wrong().orElseThrow().contains("frames that can be read"), piece.toString());
    }
}
