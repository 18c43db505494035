package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.MissingNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.Observer;
import firth.engines.Packed;
import firth.runner.observed.LastRound;
import firth.runner.observed.ObservedFleet;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;

/** What of one database lies in the stores of this host, as its files say themselves, and what of that has not been told yet. */
final class Shelves {

    /** What is not copied on for so long is left alone: whoever took it away may have meant to. */
    private static final Duration COPIED_ON = Duration.ofDays(2);

    private static final String COPIES = "copies";

    /** So far behind its server a log is that is received as it is written. */
    private static final Duration BEHIND = Duration.ofSeconds(1);

    /** What was not looked at for longer may not have come all the while. */
    private static final Duration STEADY = Duration.ofMinutes(1);

    private final String database;
    private final Supplier<Observer> observer;
    private final List<StoreDirectory> stores;
    private final Optional<String> receivedInto;
    private final Path state;
    private final Clock clock;
    private final Consumer<String> says;

    /**
     * Looks at nothing yet.
     *
     * @param observer makes a reader of its files for each look
     * @param receivedInto the store into which logs are received as they are written; empty where they are not
     */
    Shelves(
            String database,
            Supplier<Observer> observer,
            List<StoreDirectory> stores,
            Optional<String> receivedInto,
            Path state,
            Clock clock,
            Consumer<String> says) {
        this.receivedInto = receivedInto;
        this.database = database;
        this.observer = observer;
        this.stores = stores;
        this.state = state;
        this.clock = clock;
        this.says = says;
    }

    /**
     * What was found.
     *
     * @param untold backups to be told, new ones with the run that brought them
     * @param brought those among them that were not known before
     * @param lastLog the log furthest on in the newest lineage
     */
    record Found(List<ObjectNode> untold, List<ObjectNode> brought, Optional<ObjectNode> lastLog) {}

    /**
     * Looks through the stores.
     *
     * @param run to which what is new or has become whole belongs; empty: to none
     * @param completeUntil up to when nothing was committed that is not in the logs; empty: what the logs say themselves counts
     * @param telling takes what was found and sees to it that it is told; what it throws leaves all of it untold
     */
    synchronized Found look(String run, Optional<Instant> completeUntil, Telling telling) throws IOException, Trouble {
        List<Root> roots = new ArrayList<>();
        for (StoreDirectory s : stores) {
            if (Files.isDirectory(s.root())) {
                Path root = s.root().toRealPath();
                roots.add(new Root(s.id(), s.home(database).toRealPath(), root));
            }
        }
        Instant now = clock.instant();
        LastRound last = new LastRound(state.resolve(database + ".backups"));
        Set<String> looked = new HashSet<>(roots.stream().map(Root::store).toList());
        Observation seen = read(roots);
        ObservedFleet fleet = fleet(seen, now);
        // A store that is empty all at once is not mounted: looking again finds no more.
        Set<String> found = fleet.stores();
        if (last.misses(fleet.backups(), found::contains)) {
            // A file that was renamed meanwhile may not have been among those listed.
            seen = read(roots);
            fleet = fleet(seen, now);
        }
        seen.unread().stream()
                .filter(u -> !u.path().getFileName().toString().startsWith("."))
                .forEach(u -> says.accept(u.path() + " " + u.reason()));
        looked.removeAll(last.emptied(fleet.stores(), List.copyOf(looked), says));
        List<ObjectNode> all = last.all(fleet.backups(), looked::contains, now);
        List<ObjectNode> brought = new ArrayList<>();
        for (ObjectNode b : all) {
            Optional<ObjectNode> before = last.before(b.path("id").asText());
            before.ifPresent(old -> carryOn(old, b, now));
            if (!run.isEmpty() && (before.isEmpty() || isEnded(before.get(), b))) {
                b.put("run", run);
                brought.add(b);
            }
        }
        Optional<ObjectNode> lastLog = lastLog(all);
        completeUntil.ifPresent(until -> lastLog.ifPresent(log -> lengthen(log, until)));
        receivedInto.ifPresent(store ->
                all.forEach(b -> received(b, store, last.before(b.path("id").asText()))));
        Found result = new Found(all.stream().filter(b -> !last.told(b)).toList(), brought, lastLog);
        telling.tell(result);
        last.keep(all);
        return result;
    }

    private Observation read(List<Root> roots) throws IOException {
        Path file = state.resolve(database + ".known");
        Known known = Known.of(file);
        Observation seen = observer.get().observe(roots, known, false, p -> {});
        known.keep(file);
        return seen;
    }

    private ObservedFleet fleet(Observation seen, Instant now) throws Trouble {
        if (seen.databases().size() > 1) {
            throw new Trouble("in the directories of " + database + " lie backups of "
                    + seen.databases().size()
                    + " databases: "
                    + String.join(
                            ", ",
                            seen.databases().stream().map(d -> d.identity()).toList())
                    + "; move away what is not its own");
        }
        return new ObservedFleet(seen.databases(), d -> database, now, "firth runner");
    }

    /** Whether a log that was being written has come to its end. */
    private static boolean isEnded(ObjectNode before, ObjectNode now) {
        return isOpen(before) && !isOpen(now) && !before.has("run");
    }

    /** Whether it is a log that is still being written. */
    private static boolean isOpen(JsonNode backup) {
        return backup.has("sealed") && !backup.path("sealed").asBoolean();
    }

    /** Of what is received as it is written a part is there before the whole (docs/semantics.md, "Streamed"). */
    private static void received(ObjectNode log, String store, Optional<ObjectNode> before) {
        for (JsonNode c : log.path(COPIES)) {
            if (!c.path("store").asText().equals(store) || !log.has("toTime") || !isGood(c)) {
                continue;
            }
            boolean streamed = isStreamed(log, before, moment(c, "landed"));
            if (streamed) {
                ((ObjectNode) c)
                        .put("landed", moment(log, "toTime").plus(BEHIND).toString());
            }
            // Said also where it is not any more: what was said once stays.
            if (streamed || before.filter(b -> b.has("streamed")).isPresent()) {
                log.put("streamed", streamed).put("lag", (streamed ? BEHIND : Duration.ZERO).toString());
            }
        }
    }

    /**
     * Whether no part of it can have come late: it was short when it was seen first, and has grown by little at a time since. One that was
     * not received for a while, or was archived whole, counts from when it was there.
     */
    private static boolean isStreamed(ObjectNode log, Optional<ObjectNode> before, Instant written) {
        Instant to = moment(log, "toTime");
        if (before.isPresent()) {
            return before.get().path("streamed").asBoolean()
                    && !to.isAfter(moment(before.get(), "toTime").plus(STEADY));
        }
        return !to.isAfter(moment(log, "fromTime").plus(STEADY)) && !written.isAfter(to.plus(STEADY));
    }

    private static Instant moment(JsonNode of, String field) {
        return Instant.parse(of.path(field).asText());
    }

    /** Takes what was found. */
    interface Telling {
        void tell(Found found) throws IOException, Trouble;
    }

    /** What the server said of a log stays true, and so do whose it is and what it holds. */
    private static void carryOn(ObjectNode before, ObjectNode backup, Instant now) {
        for (String field : List.of("run", "components")) {
            if (before.has(field)) {
                backup.set(field, before.path(field));
            }
        }
        // What it has grown by was committed later than what was in it.
        if (before.has("toTime")
                && before.path("to").asLong() <= backup.path("to").asLong()) {
            lengthen(backup, Instant.parse(before.path("toTime").asText()));
        }
        Set<String> known = new HashSet<>();
        before.path(COPIES).forEach(c -> known.add(c.path("store").asText()));
        for (JsonNode c : backup.path(COPIES)) {
            // A file that was copied on keeps its date, and came later.
            if (!known.contains(c.path("store").asText())) {
                ((ObjectNode) c).put("dated", c.path("landed").asText()).put("landed", now.toString());
            }
        }
    }

    private static void lengthen(ObjectNode log, Instant until) {
        if (log.has("toTime") && Instant.parse(log.path("toTime").asText()).isBefore(until)) {
            log.put("toTime", until.toString());
        }
    }

    private static Optional<ObjectNode> lastLog(List<ObjectNode> all) {
        return all.stream()
                .filter(b -> b.path("kind").asText().equals(Kind.LOG.word()) && !isGone(b))
                .max((a, b) -> {
                    int lineage = Long.compare(
                            a.path("lineage").asLong(), b.path("lineage").asLong());
                    return lineage != 0
                            ? lineage
                            : Long.compare(a.path("to").asLong(), b.path("to").asLong());
                });
    }

    /** The backups that were told, as lines. */
    synchronized List<String> told() throws IOException {
        return new LastRound(state.resolve(database + ".backups"))
                .backups().stream().map(JsonNode::toString).toList();
    }

    /** Where a backup lies that was told; empty where no whole copy of it is in a store of this host. */
    synchronized Optional<Path> path(String backup) throws IOException {
        Optional<ObjectNode> known = new LastRound(state.resolve(database + ".backups")).before(backup);
        for (StoreDirectory s : stores) {
            for (JsonNode c : known.map(b -> b.path(COPIES)).orElse(MissingNode.getInstance())) {
                Path at = s.root().resolve(c.path("path").asText());
                if (c.path("store").asText().equals(s.id()) && isGood(c) && Files.exists(at)) {
                    return Optional.of(at);
                }
            }
        }
        return Optional.empty();
    }

    /** In how many stores of this host a log lies whole now, by the name of its file before it was packed. */
    synchronized Map<String, Integer> logs() throws IOException {
        Map<String, Set<String>> lying = new HashMap<>();
        for (ObjectNode b : new LastRound(state.resolve(database + ".backups")).backups()) {
            if (!b.path("kind").asText().equals(Kind.LOG.word()) || isOpen(b)) {
                continue;
            }
            for (JsonNode c : b.path(COPIES)) {
                for (StoreDirectory s : stores) {
                    Path at = s.root().resolve(c.path("path").asText());
                    if (s.id().equals(c.path("store").asText()) && isGood(c) && Files.isRegularFile(at)) {
                        lying.computeIfAbsent(Packed.nameWithin(at.getFileName().toString()), name -> new HashSet<>())
                                .add(s.id());
                    }
                }
            }
        }
        Map<String, Integer> out = new HashMap<>();
        lying.forEach((name, in) -> out.put(name, in.size()));
        return out;
    }

    private static boolean isGood(JsonNode copy) {
        return !copy.has("gone") && !copy.has("spoiled");
    }

    private static boolean isGone(JsonNode backup) {
        for (JsonNode c : backup.path(COPIES)) {
            if (isGood(c)) {
                return false;
            }
        }
        return true;
    }

    /** Copies on what came lately and never was in a store, no faster than it may; whether there was any. */
    synchronized boolean copyTo(StoreDirectory to, Throttle throttle) throws IOException {
        Instant since = clock.instant().minus(COPIED_ON);
        boolean any = false;
        for (ObjectNode b : new LastRound(state.resolve(database + ".backups")).backups()) {
            Optional<JsonNode> from = Optional.empty();
            boolean there = false;
            for (JsonNode c : b.path(COPIES)) {
                there |= c.path("store").asText().equals(to.id());
                boolean good =
                        isGood(c) && Instant.parse(c.path("landed").asText()).isAfter(since);
                from = good ? Optional.of(c) : from;
            }
            if (!there && from.isPresent() && !isOpen(b)) {
                String path = from.get().path("path").asText();
                String store = from.get().path("store").asText();
                for (StoreDirectory s : stores) {
                    if (s.id().equals(store)) {
                        to.copy(s.root().resolve(path), path, throttle);
                        any = true;
                    }
                }
            }
        }
        return any;
    }
}
