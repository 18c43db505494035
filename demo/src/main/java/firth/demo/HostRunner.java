package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.TreeMap;

/** The stand-in runner of one host: asks what is due, runs it as long as it usually takes, and tells how it goes. */
final class HostRunner {

    /** How often it asks, and how often it tells how far it is. */
    static final Duration ASKS = Duration.ofSeconds(10);

    private static final Duration TELLS = Duration.ofSeconds(5);
    private static final Duration SHORTEST = Duration.ofSeconds(2);
    private static final Duration COPYING = Duration.ofMinutes(20);
    private static final Map<String, Duration> SLOW_COPIES = Map.of("fuel", Duration.ofHours(26));
    private static final String DEEP = "skerry-deep";

    private final Firth firth;
    private final Path tree;
    private final String host;
    private final double speed;
    private final Map<String, Job> jobs = new TreeMap<>();
    private final PriorityQueue<Copying> copying = new PriorityQueue<>();
    private Instant asks = Instant.EPOCH;
    private Instant tells = Instant.EPOCH;

    /** A backup on its way to another store. */
    private record Copying(Instant lands, String store, Optional<Duration> lock, ObjectNode backup)
            implements Comparable<Copying> {
        @Override
        public int compareTo(Copying other) {
            return lands.compareTo(other.lands);
        }
    }

    /** @param speed how many times faster than usual runs go */
    HostRunner(Firth firth, Path tree, String host, double speed) {
        this.firth = firth;
        this.tree = tree;
        this.host = host;
        this.speed = speed;
    }

    /** Does whatever there is to do at a moment. */
    void tick(Instant at) throws IOException, InterruptedException {
        Instant now = at.truncatedTo(ChronoUnit.MILLIS);
        List<String> told = new ArrayList<>(finished(now));
        told.addAll(copied(now));
        if (!now.isBefore(tells)) {
            jobs.values().forEach(j -> told.add(j.running(now)));
            tells = now.plus(TELLS);
        }
        firth.tell("runner on " + host, told);
        if (!now.isBefore(asks)) {
            Optional<JsonNode> work = firth.work(host, ASKS.toString());
            if (work.isPresent()) {
                asks = now.plus(ASKS);
                acknowledge(work.get());
                begin(work.get(), now);
            }
        }
    }

    private void acknowledge(JsonNode work) throws IOException, InterruptedException {
        for (JsonNode policy : work.path("policies")) {
            if (policy.path("acknowledged").asInt(-1) != policy.path("version").asInt()) {
                firth.acknowledge(
                        host,
                        policy.path("policy").asText(),
                        policy.path("version").asInt());
            }
        }
    }

    private void begin(JsonNode work, Instant now) throws IOException, InterruptedException {
        List<String> told = new ArrayList<>();
        for (JsonNode task : work.path("tasks")) {
            if (jobs.containsKey(task.path("run").asText()) || !isStarted(task)) {
                continue;
            }
            Duration usual =
                    Duration.ofMillis((long) (task.path("expectedSeconds").asDouble() * 1000 / speed));
            Duration lasts = usual.compareTo(SHORTEST) < 0 ? SHORTEST : usual;
            String refusal = "no store takes it";
            String taking = null;
            for (JsonNode store : task.path("stores")) {
                Optional<String> refused = refusal(task, store.asText());
                if (refused.isEmpty() && taking == null) {
                    taking = store.asText();
                } else if (taking == null) {
                    refusal = refused.orElse(refusal);
                }
            }
            Job job = new Job(task, now, lasts, taking == null ? "nowhere" : taking);
            if (taking == null) {
                told.add(job.failed(refusal, now));
            } else {
                jobs.put(job.id(), job);
                told.add(job.running(now));
                plan(work, job);
            }
        }
        firth.tell("runner on " + host, told);
    }

    /** A scheduler that is switched off starts nothing; by hand it can be started all the same. */
    private boolean isStarted(JsonNode task) throws IOException {
        Optional<SimulatedDatabase> database = database(task);
        return task.path("trigger").asText().equals("hand")
                || database.isEmpty()
                || !database.get().setting("scheduler").equals("off");
    }

    private Optional<SimulatedDatabase> database(JsonNode task) throws IOException {
        Path home = tree.resolve("hosts")
                .resolve(host)
                .resolve(task.path("database").asText());
        return Files.isDirectory(home) ? Optional.of(new SimulatedDatabase(home)) : Optional.empty();
    }

    /** What the engine or the store says against a run; empty where nothing does. Something is really written there. */
    private Optional<String> refusal(JsonNode task, String name) throws IOException {
        String id = task.path("database").asText();
        Optional<SimulatedDatabase> database = database(task);
        if (database.isPresent()) {
            for (String right : database.get().settings("account.needed")) {
                if (!database.get().settings("account.held").contains(right)) {
                    return Optional.of("permission denied for table " + right.replaceFirst("^read ", ""));
                }
            }
        }
        SimulatedStore store = new SimulatedStore(tree.resolve("stores").resolve(name));
        try {
            store.write(id, "newest-run", task.path("run").asText().getBytes(StandardCharsets.UTF_8));
            return Optional.empty();
        } catch (IOException refused) {
            return Optional.of(title(name) + " refuses writes: " + refused.getMessage());
        }
    }

    private static String title(String store) {
        String words = store.replace('-', ' ');
        return words.substring(0, 1).toUpperCase(java.util.Locale.ROOT) + words.substring(1);
    }

    /** Copies go on some time after the run, under the lock the policy asks for. */
    private void plan(JsonNode work, Job job) {
        Duration after = SLOW_COPIES.getOrDefault(job.task().path("database").asText(), COPYING);
        for (JsonNode store : job.task().path("copies")) {
            if (!store.asText().equals(DEEP)) {
                for (ObjectNode backup : job.backups()) {
                    Instant ended = Instant.parse(backup.path("ended").asText());
                    copying.add(new Copying(
                            ended.plus(after),
                            store.asText(),
                            lock(work, job.task().path("database").asText()),
                            backup));
                }
            }
        }
    }

    private static Optional<Duration> lock(JsonNode work, String database) {
        for (JsonNode policy : work.path("policies")) {
            boolean follows = false;
            for (JsonNode d : policy.path("databases")) {
                follows |= d.asText().equals(database);
            }
            for (JsonNode rule : policy.path("document").path("retain")) {
                if (follows && rule.has("lock") && rule.path("role").asText().equals("far")) {
                    return Optional.of(Duration.parse(rule.path("lock").asText()));
                }
            }
        }
        return Optional.empty();
    }

    private List<String> copied(Instant now) {
        List<String> out = new ArrayList<>();
        while (!copying.isEmpty() && !copying.peek().lands().isAfter(now)) {
            Copying c = copying.poll();
            ObjectNode line = c.backup().deepCopy();
            ObjectNode copy = line.putArray("copies")
                    .addObject()
                    .put("store", c.store())
                    .put("landed", c.lands().toString());
            c.lock().ifPresent(l -> copy.put("lockedUntil", c.lands().plus(l).toString()));
            out.add(line.toString());
        }
        return out;
    }

    /** Lays the file of a backup into the store it went to. */
    private void lay(ObjectNode backup) throws IOException {
        JsonNode copy = backup.path("copies").path(0);
        Path home = tree.resolve("stores").resolve(copy.path("store").asText());
        if (Files.isDirectory(home)) {
            new FilesOfStore(home)
                    .lay(
                            copy.path("path").asText(),
                            backup.path("bytes").asLong(),
                            Instant.parse(backup.path("ended").asText()));
        }
    }

    private List<String> finished(Instant now) throws IOException {
        List<String> out = new ArrayList<>();
        for (Iterator<Job> i = jobs.values().iterator(); i.hasNext(); ) {
            Job job = i.next();
            if (job.isOver(now)) {
                out.addAll(job.done());
                for (ObjectNode backup : job.backups()) {
                    lay(backup);
                }
                i.remove();
            }
        }
        return out;
    }
}
