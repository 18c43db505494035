package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.ConfigurationFiles;
import firth.engines.Keys;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** Carries out runs of one database, and tells of each that it began and how it ended. */
final class Carrying {

    /** To the millisecond: two runs of a small database begin within one second. */
    static final DateTimeFormatter STAMP =
            DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmssSSS'Z'", Locale.ROOT).withZone(ZoneOffset.UTC);

    private final Instance instance;
    private final Map<String, StoreDirectory> stores;
    private final Shelves shelves;
    private final Begun begun;
    private final Outbox outbox;
    private final Path state;
    private final Rules rules;
    private final Sealing sealing;
    private final Clock clock;
    private final Consumer<String> says;

    Carrying(
            Instance instance,
            Map<String, StoreDirectory> stores,
            Shelves shelves,
            Begun begun,
            Outbox outbox,
            Path state,
            Rules rules,
            Sealing sealing,
            Clock clock,
            Consumer<String> says) {
        this.instance = instance;
        this.stores = stores;
        this.shelves = shelves;
        this.begun = begun;
        this.outbox = outbox;
        this.state = state;
        this.rules = rules;
        this.sealing = sealing;
        this.clock = clock;
        this.says = says;
    }

    /**
     * What is encrypted of a database.
     *
     * @param key the name of the key of all it writes; empty: nothing is
     */
    record Sealing(Keys keys, Optional<String> key) {

        static final Sealing NONE = new Sealing(Keys.NONE, Optional.empty());
    }

    private Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    /** Notes and tells that a run begins. Nothing of it is done yet. */
    void begin(Task task) throws IOException {
        ObjectNode line = task.running(now());
        begun.note(line, Optional.empty());
        outbox.add(List.of(line));
    }

    /** Carries out a run that has begun, and copies on what it brought. */
    void carryOut(Task task) throws IOException, InterruptedException {
        try {
            if (!instance.kinds().contains(task.kind())) {
                throw new Trouble("this runner takes no " + task.kind().word() + " of such a database, but "
                        + String.join(
                                ", ",
                                instance.kinds().stream()
                                        .map(Kind::word)
                                        .sorted()
                                        .toList()));
            }
            StoreDirectory store = taking(task);
            switch (task.kind()) {
                case LOG -> logs(task, store);
                case CONFIG -> config(task, store);
                default -> data(task, store);
            }
        } catch (Trouble e) {
            task.end(begun, outbox, List.of(task.failed(now(), e)));
            return;
        } catch (IOException | RuntimeException e) {
            task.end(begun, outbox, List.of(task.failed(now(), new Trouble(Trouble.said(e)))));
            return;
        }
        copyOn(task);
        if (task.kind() == Kind.LOG) {
            deleteAtSource(task.database());
        }
    }

    /** Where the rules leave that to the runner: the engine's own logs that lie in as many stores as is asked for, up to the first that does not. */
    private void deleteAtSource(String database) throws IOException, InterruptedException {
        Optional<Integer> copies = rules.of(database).afterCopies();
        if (copies.isEmpty()) {
            return;
        }
        try {
            Map<String, Integer> lying = shelves.logs();
            Optional<String> last = Optional.empty();
            for (String log : instance.endedLogs()) {
                if (lying.getOrDefault(log, 0) < copies.get()) {
                    break;
                }
                last = Optional.of(log);
            }
            if (last.isPresent()) {
                instance.deleteLogs(last.get());
            }
        } catch (Trouble e) {
            says.accept("the logs of " + database + " at their source are not deleted: " + e.why());
        }
    }

    /** The first store that takes it. */
    private StoreDirectory taking(Task task) throws Trouble {
        List<String> refusals = new ArrayList<>();
        for (String id : task.stores()) {
            StoreDirectory store = stores.get(id);
            Optional<String> refusal =
                    store == null ? Optional.of("this runner's file does not say where it lies") : store.refusal();
            if (refusal.isEmpty() && store != null) {
                return store;
            }
            refusals.add(id + " refuses writes: " + refusal.orElse(""));
        }
        throw new Trouble(refusals.isEmpty() ? "no store is named for it" : String.join("; ", refusals));
    }

    private void data(Task task, StoreDirectory store) throws IOException, InterruptedException, Trouble {
        Optional<Path> parent = Optional.empty();
        if (task.parent().isPresent()) {
            String id = task.parent().get();
            parent = Optional.of(shelves.path(id)
                    .orElseThrow(
                            () -> new Trouble(id + ", from which it is to hang, lies whole in no store of this host")));
        }
        Instance.Course course = course(task, store);
        Laying laying = course.laying();
        String name = instance.fileName(task.database(), task.kind(), STAMP.format(task.started()));
        Path aside = store.aside(task.database() + "-" + name);
        begun.note(task.running(now()), Optional.of(aside));
        // What comes to be while it is taken is not named, and may be missing.
        List<Instance.Part> parts = instance.parts();
        String output;
        Path to;
        try (Taken taken = taken(task, laying, aside)) {
            String said = instance.take(task.kind(), parent, taken.path(), course);
            to = store.home(task.database()).resolve(Files.isDirectory(taken.path()) ? name : laying.name(name));
            taken.place(to);
            output = (instance.isReadByItsLogs() ? withLogs(task, store, said) : said)
                    + configuration(task, store, aside);
        } finally {
            StoreDirectory.remove(aside);
        }
        shelves.look(task.run(), Optional.empty(), found -> {
            if (found.brought().stream()
                    .noneMatch(b -> b.path("kind").asText().equals(task.kind().word()))) {
                throw new Trouble("what was written to " + to + " cannot be read as a backup", output);
            }
            found.brought().stream()
                    .filter(b -> b.path("kind").asText().equals(task.kind().word()))
                    .forEach(b -> parts.forEach(p -> b.withArray("components").add(p.name())));
            List<JsonNode> lines = new ArrayList<>(List.of(task.went(now(), output)));
            lines.addAll(found.untold());
            task.end(begun, outbox, lines);
        });
    }

    private Instance.Course course(Task task, StoreDirectory store) {
        Laying laying = laying(task);
        return new Instance.Course() {
            @Override
            public void written(long bytes) {
                task.written(bytes);
            }

            @Override
            public OptionalDouble most() {
                return rules.of(task.database()).most().into(store.id());
            }

            @Override
            public Laying laying() {
                return laying;
            }
        };
    }

    private Laying laying(Task task) {
        return new Laying(rules.of(task.database()).compressed(), sealing.keys, sealing.key);
    }

    /**
     * Where a backup is taken to before it lies in its place. What is to be encrypted does not lie in a store as it is, not even for a
     * moment; what is only to be compressed does, for its host may have no room for it.
     */
    private record Taken(Path path, Path aside, Laying laying, Predicate<Path> asItIs) implements AutoCloseable {

        void place(Path to) throws IOException {
            if (path.equals(aside)) {
                StoreDirectory.place(aside, to);
                return;
            }
            Path laid = Files.createDirectories(aside).resolve(to.getFileName());
            laying.move(path, laid, asItIs);
            StoreDirectory.place(laid, to);
        }

        @Override
        public void close() throws IOException {
            StoreDirectory.remove(path);
        }
    }

    private Taken taken(Task task, Laying laying, Path aside) throws IOException {
        Path path = aside;
        if (laying.key().isPresent()) {
            path = state.resolve(task.database() + ".taken");
            StoreDirectory.remove(path);
        } else if (laying.compressed() && !instance.compresses()) {
            path = Files.createDirectories(aside).resolve("taken");
        }
        return new Taken(path, aside, laying, instance::liesAsItIs);
    }

    /** Its configuration by itself. */
    private void config(Task task, StoreDirectory store) throws IOException, InterruptedException, Trouble {
        Path aside = store.aside(task.database() + "-config");
        begun.note(task.running(now()), Optional.of(aside));
        String unread = kept(task, store, aside);
        shelves.look(task.run(), Optional.empty(), found -> {
            List<JsonNode> lines = new ArrayList<>(List.of(task.went(now(), unread)));
            lines.addAll(found.untold());
            task.end(begun, outbox, lines);
        });
    }

    /**
     * After the data, so that it is that with which they were written. Without it they are whole all the same.
     *
     * @param aside where the data were written, and are not any more
     */
    private String configuration(Task task, StoreDirectory store, Path aside) throws InterruptedException {
        try {
            String unread = kept(task, store, aside);
            return unread.isEmpty() ? "" : "\n" + unread;
        } catch (Trouble e) {
            return "\nits configuration is not kept: " + e.why();
        } catch (IOException e) {
            return "\nits configuration is not kept: " + Trouble.said(e);
        }
    }

    /**
     * Keeps the configuration; gives which files of it could not be read.
     *
     * @param aside what is left there of a run that was cut off is taken away
     */
    private String kept(Task task, StoreDirectory store, Path aside) throws IOException, InterruptedException, Trouble {
        String name = ConfigurationFiles.name(now());
        StoreDirectory.remove(aside);
        Laying laying = new Laying(false, sealing.keys, sealing.key);
        try (Taken taken = taken(task, laying, aside)) {
            String unread = instance.configuration(taken.path());
            if (Files.exists(taken.path())) {
                taken.place(store.home(task.database()).resolve(name));
            }
            return unread;
        } finally {
            StoreDirectory.remove(aside);
        }
    }

    /** A full is whole though logs from before it are lost; what it has to say includes that. */
    private String withLogs(Task task, StoreDirectory store, String output)
            throws InterruptedException, Trouble, IOException {
        Archive archive = archive(task, store);
        try {
            instance.endLog(archive);
            return output;
        } catch (LogsLost e) {
            return output + "\n" + e.why();
        } finally {
            swept(archive);
        }
    }

    /** The backups of this database that were told, as lines. */
    List<String> told() throws IOException {
        return shelves.told();
    }

    /** What is to be encrypted is fetched to this host first, as with data. */
    private Archive archive(Task task, StoreDirectory store) throws IOException {
        Laying laying = laying(task);
        Path fetching = laying.key().isPresent()
                ? state.resolve(task.database() + ".fetched")
                : store.aside(task.database() + "-fetched");
        Archive out =
                new Archive(store.archive(task.database()), fetching, store.aside(task.database() + "-log"), laying);
        swept(out);
        Files.createDirectories(out.aside());
        return out;
    }

    private static void swept(Archive archive) throws IOException {
        StoreDirectory.remove(archive.fetching());
        StoreDirectory.remove(archive.aside());
    }

    /** Logs that have come since, or, where nothing was committed, that they go as far as before until now. */
    private void logs(Task task, StoreDirectory store) throws IOException, InterruptedException, Trouble {
        Instance.Standing standing = instance.standing();
        Path kept = state.resolve(task.database() + ".standing");
        boolean idle = Files.exists(kept) && Files.readString(kept).equals(standing.mark());
        String said = idle ? "nothing was committed since the last round" : ended(task, store);
        Optional<Instant> until = Optional.of(standing.until()).filter(u -> !idle && standing.endsThere());
        shelves.look(task.run(), until, found -> {
            List<JsonNode> lines = new ArrayList<>(List.of(task.went(now(), said)));
            lines.addAll(found.untold());
            if (idle) {
                found.lastLog().ifPresent(log -> lines.add(still(task, log, standing.until())));
            }
            task.end(begun, outbox, lines);
        });
        Files.writeString(kept, standing.mark(), StandardCharsets.UTF_8);
    }

    private String ended(Task task, StoreDirectory store) throws IOException, InterruptedException, Trouble {
        Archive archive = archive(task, store);
        try {
            return instance.endLog(archive).map(s -> "up to " + s).orElse("nothing was written");
        } finally {
            swept(archive);
        }
    }

    /** A log in which nothing happened: what was complete is complete until later. */
    private static ObjectNode still(Task task, ObjectNode last, Instant until) {
        Instant from = Instant.parse(last.path("toTime").asText());
        Instant to = until.isBefore(from) ? from : until;
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("type", "backup")
                .put("id", task.backup())
                .put("database", task.database())
                .put("run", task.run())
                .put("kind", Kind.LOG.word())
                .put("started", from.toString())
                .put("ended", to.toString())
                .put("bytes", 0)
                .put("lineage", last.path("lineage").asText());
        out.set("from", last.path("to"));
        out.set("to", last.path("to"));
        out.put("fromTime", from.toString()).put("toTime", to.toString());
        for (JsonNode c : last.path("copies")) {
            if (!c.has("gone") && !c.has("spoiled")) {
                out.withArray("copies")
                        .addObject()
                        .put("store", c.path("store").asText())
                        .put("bytes", 0)
                        .put("landed", to.toString());
            }
        }
        return out;
    }

    private void copyOn(Task task) {
        for (String id : task.copies()) {
            StoreDirectory to = stores.get(id);
            if (to == null) {
                continue;
            }
            try {
                if (shelves.copyTo(
                        to, new Throttle(() -> rules.of(task.database()).most().into(id)))) {
                    shelves.look(task.run(), Optional.empty(), found -> outbox.add(found.untold()));
                }
            } catch (IOException e) {
                says.accept("copies to " + id + " wait for the next run: " + Trouble.said(e));
            } catch (Trouble e) {
                says.accept(e.why());
            }
        }
    }

    /** Says how a run ended that began before this program was started: what it wrote whole is told, and the rest taken away. */
    void takeUp(Begun.Noted noted) throws IOException {
        String run = noted.run().path("id").asText();
        if (!noted.end().isEmpty()) {
            outbox.add(noted.end());
            begun.over(run);
            return;
        }
        StoreDirectory.remove(state.resolve(noted.run().path("database").asText() + ".taken"));
        if (noted.remains().isPresent()) {
            StoreDirectory.remove(noted.remains().get());
        }
        String kind = noted.run().path("kind").asText();
        try {
            shelves.look(run, Optional.empty(), found -> {
                boolean whole = found.brought().stream()
                        .anyMatch(b -> b.path("kind").asText().equals(kind));
                List<JsonNode> lines = new ArrayList<>();
                lines.add(
                        whole
                                ? Task.ended(noted.run().deepCopy(), now()).put("outcome", "ok")
                                : Task.failed(noted.run(), now(), stopped()));
                lines.addAll(found.untold());
                begun.end(noted.run(), lines, outbox);
            });
        } catch (Trouble e) {
            begun.end(noted.run(), List.of(Task.failed(noted.run(), now(), e)), outbox);
        }
    }

    private static Trouble stopped() {
        return new Trouble("the runner was stopped while it ran; what it had written was not whole and was taken away");
    }

    boolean isServed() {
        return instance.isServed();
    }

    /** The server as it calls itself; empty where there is none, or it does not answer. */
    Optional<Instance.Server> server() throws InterruptedException {
        return instance.server();
    }

    /** What it finds out about the database and the stores, as a line of the exchange format. */
    ObjectNode probe(String host, String database) throws InterruptedException {
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("type", "probe")
                .put("id", host + ":" + database)
                .put("database", database)
                .put("source", "runner on " + host)
                .put("at", now().toString())
                .put("scheduler", true);
        instance.probe(out, rules.of(database).afterCopies().isPresent());
        try {
            for (Instance.Part part : instance.parts()) {
                out.withArray("components")
                        .addObject()
                        .put("name", part.name())
                        .put("kind", part.kind())
                        .put("bytes", part.bytes());
            }
        } catch (Trouble silent) {
            // What it found out above says already that the server does not answer.
            out.remove("components");
        }
        for (StoreDirectory store : stores.values()) {
            ObjectNode tried = out.withArray("destinations").addObject().put("store", store.id());
            Optional<String> refusal = store.refusal();
            tried.put("reached", Files.isDirectory(store.root())).put("written", refusal.isEmpty());
            refusal.ifPresent(r -> tried.put("message", r));
            try {
                tried.put("freeBytes", store.freeBytes());
            } catch (IOException notThere) {
                tried.put("written", false);
            }
        }
        return out;
    }
}
