package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.engines.Engine;
import firth.engines.Keys;
import firth.engines.Observer;
import firth.engines.mariadb.MariadbFiles;
import firth.engines.postgres.PostgresFiles;
import firth.engines.sqlite.SqliteFiles;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/** The runner of one host: asks Firth what is due, has it carried out, and tells how it goes. */
final class Runner {

    private static final Duration BETWEEN_PROBES = Duration.ofMinutes(10);
    private static final Duration TELLS = Duration.ofSeconds(5);
    private static final int AT_A_TIME = 2;
    private static final String SCRIPT = "archive-log";

    private final Settings settings;
    private final FirthLink firth;
    private final Clock clock;
    private final Consumer<String> says;
    private final Outbox outbox;
    private final LastWord lastWord;
    private final Map<String, Carrying> databases = new TreeMap<>();
    private final List<Receiving> receiving = new ArrayList<>();
    private final List<SqliteInstance> watched = new ArrayList<>();
    private final Map<String, Task> running = new ConcurrentHashMap<>();
    private final ExecutorService workers = Executors.newFixedThreadPool(AT_A_TIME, Runner::beside);
    private final ExecutorService prober = Executors.newSingleThreadExecutor(Runner::beside);
    private final ExecutorService receivers = Executors.newCachedThreadPool(Runner::beside);
    /** What Firth asked for and the file does not name; said once. */
    private final Set<String> unreachable = new HashSet<>();

    private Instant asked = Instant.EPOCH;
    private Instant probed = Instant.EPOCH;
    private Instant told = Instant.EPOCH;
    /** A change of the rules, or of the hour, is obeyed within this time. */
    private static final Duration RULES_STAND = Duration.ofSeconds(10);

    private String trouble = "";

    /** @param says takes what whoever started it should read */
    Runner(Settings settings, FirthLink firth, Clock clock, Consumer<String> says) throws IOException {
        this.settings = settings;
        this.firth = firth;
        this.clock = clock;
        this.says = says;
        Path state = Files.createDirectories(settings.state());
        this.outbox = new Outbox(state, says);
        this.lastWord = new LastWord(state);
        layScript(state.resolve(SCRIPT));
        Begun begun = new Begun(state);
        Map<String, StoreDirectory> stores = new TreeMap<>();
        settings.stores().forEach((id, root) -> stores.put(id, new StoreDirectory(id, root)));
        Keys keys = Keys.of(settings.keys());
        settings.databases().forEach((id, reached) -> {
            Shelves shelves = new Shelves(
                    id,
                    () -> new Observer(List.of(reader(reached)), keys),
                    List.copyOf(stores.values()),
                    reached.receive(),
                    state,
                    clock,
                    says);
            Instance instance = instance(id, reached, state);
            Carrying.Sealing sealing = new Carrying.Sealing(keys, reached.key());
            databases.put(
                    id,
                    new Carrying(instance, stores, shelves, begun, outbox, state, this::rules, sealing, clock, says));
            if (instance instanceof SqliteInstance file && file.keepsItsLog()) {
                watched.add(file);
            }
            if (instance instanceof PostgresInstance server && server.slot().isPresent()) {
                StoreDirectory into =
                        Objects.requireNonNull(stores.get(reached.receive().orElseThrow()));
                receiving.add(new Receiving(id, server.slot().get(), into, shelves, outbox, state, clock, says));
            }
        });
        for (Begun.Noted noted : begun.all()) {
            Carrying own = databases.get(noted.run().path("database").asText());
            if (own != null) {
                own.takeUp(noted);
            }
        }
    }

    /** A thread that keeps nobody from ending. */
    private static Thread beside(Runnable work) {
        Thread thread = new Thread(work, "beside");
        thread.setDaemon(true);
        return thread;
    }

    /** What servers archive their logs with lies beside what the runner keeps. */
    private static void layScript(Path to) throws IOException {
        try (InputStream in = Objects.requireNonNull(Runner.class.getResourceAsStream(SCRIPT))) {
            Path beside = to.resolveSibling(SCRIPT + ".new");
            Files.copy(in, beside, StandardCopyOption.REPLACE_EXISTING);
            Files.setPosixFilePermissions(beside, PosixFilePermissions.fromString("rwxr-xr-x"));
            Files.move(beside, to, StandardCopyOption.ATOMIC_MOVE);
        }
    }

    private Instance instance(String database, Settings.Reached reached, Path state) {
        return switch (reached.engine()) {
            case "sqlite" ->
                new SqliteInstance(
                        Path.of(reached.at()),
                        clock,
                        reached.log()
                                ? Optional.of(new SqliteInstance.Kept(database, state.resolve(database + ".log")))
                                : Optional.empty());
            case "mariadb" -> new MariadbInstance(Path.of(reached.at()), reached.programs(), reached.dumps());
            default ->
                new PostgresInstance(
                        reached.at(), reached.programs(), reached.receive().map(s -> PostgresSlot.of(database)));
        };
    }

    private static Engine reader(Settings.Reached reached) {
        return switch (reached.engine()) {
            case "sqlite" -> new SqliteFiles();
            case "mariadb" -> new MariadbFiles();
            default -> new PostgresFiles();
        };
    }

    private record Ruled(Instant at, Rules.Asked asked) {}

    private final Map<String, Ruled> rules = new ConcurrentHashMap<>();

    /** As they were within the last seconds. */
    private Rules.Asked rules(String database) {
        Instant now = clock.instant();
        return rules.compute(database, (id, before) -> {
                    if (before != null && now.isBefore(before.at.plus(RULES_STAND))) {
                        return before;
                    }
                    try {
                        List<String> facts =
                                lastWord.said().map(LastWord.Said::lines).orElse(List.of());
                        return new Ruled(now, Rules.of(facts, id, settings.host(), now));
                    } catch (IOException e) {
                        throw new UncheckedIOException("what Firth said last cannot be read", e);
                    }
                })
                .asked;
    }

    /** Asks and works for as long as nobody interrupts it. A Firth that is away is asked again later. */
    void run() throws InterruptedException {
        receiving.forEach(each -> receivers.execute(() -> keepOn(each)));
        watched.forEach(each -> receivers.execute(() -> watch(each)));
        while (!Thread.currentThread().isInterrupted()) {
            work();
            Thread.sleep(Math.min(settings.every().toMillis(), TELLS.toMillis()));
        }
    }

    /** Tells what there is to tell and, when it is time, asks for work; what does not go is said, and tried again the next time. */
    void work() throws InterruptedException {
        try {
            Instant now = clock.instant().truncatedTo(ChronoUnit.MILLIS);
            if (!now.isBefore(probed.plus(BETWEEN_PROBES))) {
                databases.forEach((id, own) -> prober.execute(() -> probe(id, own)));
                prober.execute(this::lookAround);
                probed = now;
            }
            if (!now.isBefore(told.plus(TELLS))) {
                told = now;
                for (Task t : running.values()) {
                    t.tell(outbox, now);
                }
            }
            outbox.tell(firth, source());
            if (!now.isBefore(asked.plus(settings.every()))) {
                ask(now);
                asked = now;
            }
            trouble = "";
        } catch (FirthLink.NotThere e) {
            alone(e);
        } catch (IOException | FirthLink.Refused e) {
            say(String.valueOf(e.getMessage()));
        }
    }

    /** Goes on by what Firth said last, for as long as it may; what it does is told once Firth is there again. */
    private void alone(FirthLink.NotThere away) {
        Instant now = clock.instant().truncatedTo(ChronoUnit.MILLIS);
        Optional<LastWord.Said> said = lastWord.said();
        boolean may =
                said.filter(s -> now.isBefore(s.heard().plus(settings.alone()))).isPresent();
        String since = said.map(s -> ", not heard since " + s.heard()).orElse("");
        say(away.getMessage()
                + since
                + (may ? "; going on by the policies it gave" : "; nothing is started until it answers"));
        if (!may || now.isBefore(asked.plus(settings.every()))) {
            return;
        }
        asked = now;
        try {
            List<String> facts = new ArrayList<>(said.get().lines());
            for (Carrying own : databases.values()) {
                facts.addAll(own.told());
            }
            facts.addAll(outbox.ran().lines(now));
            for (JsonNode due : Alone.due(facts, now)) {
                start(due, now);
            }
        } catch (IOException e) {
            say("what is due could not be found out: " + e.getMessage());
        }
    }

    private String source() {
        return "runner on " + settings.host();
    }

    /** An engine that does not answer keeps nobody but whoever asked it. */
    private void probe(String database, Carrying own) {
        try {
            outbox.add(List.of(own.probe(settings.host(), database)));
        } catch (IOException e) {
            says.accept("what was found out about " + database + " could not be kept: " + e.getMessage());
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    /** Tells of the servers on this host: those in its file by what they call themselves, others so that somebody may enrol them. */
    private void lookAround() {
        try {
            List<JsonNode> out = new ArrayList<>();
            List<Path> known = new ArrayList<>();
            boolean all = true;
            for (Map.Entry<String, Carrying> own : databases.entrySet()) {
                Optional<Instance.Server> server = own.getValue().server();
                server.ifPresent(s -> {
                    known.addAll(s.sockets());
                    ObjectNode seen = sighting(own.getKey(), s.engine());
                    s.identity().ifPresent(i -> seen.put("identity", i));
                    s.lineage().ifPresent(l -> seen.put("lineage", l));
                    out.add(seen);
                });
                // One that does not answer may be the one that is found.
                all &= server.isPresent() || !own.getValue().isServed();
            }
            if (all) {
                Neighbours.unknown(Neighbours.SOCKETS, known).forEach(s -> out.add(sighting(s.name(), s.engine())));
            }
            if (!out.isEmpty()) {
                outbox.add(out);
            }
        } catch (IOException e) {
            says.accept("which servers listen on this host could not be found out: " + Trouble.said(e));
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    private ObjectNode sighting(String name, String engine) {
        return Json.MAPPER
                .createObjectNode()
                .put("type", "sighting")
                .put("id", Neighbours.id(settings.host(), name))
                .put("database", name)
                .put("host", settings.host())
                .put("engine", engine)
                .put("seen", clock.instant().truncatedTo(ChronoUnit.MILLIS).toString());
    }

    private void say(String what) {
        if (!what.equals(trouble)) {
            trouble = what;
            says.accept(what);
        }
    }

    private void ask(Instant now) throws IOException, InterruptedException, FirthLink.Refused {
        String path = "/api/runners/" + FirthLink.encoded(settings.host());
        boolean whole = lastWord.isWanted(now);
        JsonNode work = firth.ask(firth.request(path + "/work?every=" + settings.every() + (whole ? "&fleet=true" : ""))
                .POST(BodyPublishers.noBody()));
        for (JsonNode policy : work.path("policies")) {
            if (policy.path("acknowledged").asInt(-1) != policy.path("version").asInt()) {
                String which = path + "/policies/"
                        + FirthLink.encoded(policy.path("policy").asText());
                String version = "{\"version\":" + policy.path("version").asInt() + "}";
                firth.ask(firth.request(which)
                        .header("content-type", "application/json")
                        .PUT(BodyPublishers.ofString(version)));
            }
        }
        if (whole) {
            lastWord.keep(work, now);
        }
        lastWord.heard(now);
        for (JsonNode asked : work.path("tasks")) {
            start(asked, now);
        }
        outbox.tell(firth, source());
    }

    private void start(JsonNode asked, Instant now) throws IOException {
        Task task = new Task(asked, now);
        Carrying own = databases.get(task.database());
        if (own == null) {
            if (unreachable.add(task.database())) {
                says.accept("Firth asks for " + task.database() + ", of which " + settings.host()
                        + "'s file does not say how it is reached: add it under [databases]");
            }
        } else if (running.putIfAbsent(task.run(), task) == null) {
            own.begin(task);
            workers.execute(() -> carryOut(own, task));
        }
    }

    private void carryOut(Carrying own, Task task) {
        try {
            own.carryOut(task);
        } catch (IOException e) {
            says.accept("the end of " + task.run() + " could not be kept: " + e.getMessage());
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        } finally {
            running.remove(task.run());
        }
    }

    private void watch(SqliteInstance each) {
        try {
            each.watch(says);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** One that waits for its server keeps no other. */
    private void keepOn(Receiving each) {
        try {
            while (true) {
                each.keepOn();
                Thread.sleep(settings.every().toMillis());
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    /** Whether anything runs. */
    boolean isBusy() {
        return !running.isEmpty();
    }

    /** Ends what runs; the next one says what became of it. */
    void stop() throws InterruptedException {
        prober.shutdownNow();
        receivers.shutdownNow();
        for (Receiving each : receiving) {
            each.end();
        }
        workers.shutdownNow();
        workers.awaitTermination(5, TimeUnit.SECONDS);
    }
}
