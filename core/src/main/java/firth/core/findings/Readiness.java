package firth.core.findings;

import firth.core.findings.Check.Item;
import firth.core.findings.Check.State;
import firth.core.model.BackupStore;
import firth.core.model.Component;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.NearMiss;
import firth.core.model.Probe;
import firth.core.model.Probe.Destination;
import firth.core.model.Probe.LogDisk;
import firth.core.model.Probe.LogMode;
import firth.core.model.Probe.Rights;
import firth.core.model.Route;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Whether a database is fit for a schedule to be trusted: a list of facts (docs/semantics.md, "Readiness"). */
public final class Readiness {

    /** How long a fact that was probed is taken to hold. */
    public static final Duration FRESH = Duration.ofDays(1);

    /** How long the log disk must last with nothing archived. */
    private static final Duration LASTS = Duration.ofDays(1);

    /** No disk is said to last longer. */
    private static final Duration FAR = Duration.ofDays(3650);

    /** How far another clock may be ahead. */
    private static final Duration AHEAD = Duration.ofMinutes(5);

    private final Database database;
    private final Fleet fleet;
    private final List<Probe> probes;
    private final Backed backed;
    private final Instant now;
    private final Optional<Route> route;
    private final List<Check> checks = new ArrayList<>();

    /**
     * What its history says.
     *
     * @param newest its newest data backup
     * @param fullBytes how much its newest full holds
     */
    public record Backed(Optional<TakenBackup> newest, OptionalDouble fullBytes) {
        public static final Backed NEVER = new Backed(Optional.empty(), OptionalDouble.empty());
    }

    /** A data backup that succeeded. */
    public record TakenBackup(Kind kind, Instant ended, boolean byHand) {}

    /** Something a probe says, with who found it and when. */
    private record Said<T>(T value, String source, Instant at) {}

    private Readiness(Database database, Fleet fleet, List<Probe> probes, Backed backed, Instant now) {
        this.database = database;
        this.fleet = fleet;
        this.probes = probes.stream()
                .filter(p -> p.database().equals(database.id()) && !p.at().isAfter(now.plus(AHEAD)))
                .sorted(Comparator.comparing(Probe::at).thenComparing(Probe::id).reversed())
                .toList();
        this.backed = backed;
        this.now = now;
        this.route = fleet.route(database);
    }

    /** The list as of a moment; probes of other databases count for nothing. */
    public static List<Check> of(Database database, Fleet fleet, List<Probe> probes, Backed backed, Instant now) {
        return new Readiness(database, fleet, probes, backed, now).all();
    }

    /**
     * When the list may be another for time alone: as a fact grows old, one of another clock's future counts, another version of a
     * policy comes into force or the database is next stopped. Until then it stays as it is; {@code Instant.MAX} where time changes nothing.
     */
    public static Instant standsUntil(Database database, Fleet fleet, List<Probe> probes, Instant now) {
        return Stream.of(
                        // It is old from the very next instant on.
                        probes.stream().map(p -> p.at().plus(FRESH).plusNanos(1)),
                        probes.stream().map(p -> p.at().minus(AHEAD)),
                        fleet.changes(database).stream(),
                        database.stopped().stream().map(Database.Stop::from))
                .flatMap(s -> s)
                .filter(now::isBefore)
                .min(Comparator.naturalOrder())
                .orElse(Instant.MAX);
    }

    /** How a whole list stands: as its worst line does. */
    public static State worst(List<Check> checks) {
        return checks.stream().map(Check::state).max(Comparator.naturalOrder()).orElse(State.UNKNOWN);
    }

    private List<Check> all() {
        probed(Item.LOGS, Probe::logs, this::logs);
        probed(Item.RIGHTS, Probe::rights, Readiness::rights);
        probed(Item.PROCESSES, p -> stated(p.processes()), Readiness::processes);
        probed(Item.SCHEDULER, Probe::scheduler, Readiness::scheduler);
        probed(Item.VERSIONS, Readiness::versions, Readiness::fit);
        destinations();
        apart();
        logDisk();
        backup();
        probed(Item.NAMES, p -> stated(p.names()), this::names);
        if (newest(Readiness::components).isPresent()) {
            probed(Item.COMPONENTS, Readiness::components, this::consists);
        }
        return List.copyOf(checks);
    }

    private static <K, V> Optional<Map<K, V>> stated(Map<K, V> map) {
        return Optional.of(map).filter(m -> !m.isEmpty());
    }

    private <T> Optional<Said<T>> newest(Function<Probe, Optional<T>> fact) {
        return probes.stream()
                .flatMap(p -> fact.apply(p).map(v -> new Said<>(v, p.source(), p.at())).stream())
                .findFirst();
    }

    /** @param left how long it goes on so from when it was told; empty where nothing wears out */
    private record Verdict(State state, CheckDetail detail, Optional<Duration> left) {
        Verdict(State state, CheckDetail detail) {
            this(state, detail, Optional.empty());
        }

        static Verdict of(boolean good, CheckDetail detail) {
            return new Verdict(good ? State.READY : State.NOT_READY, detail);
        }
    }

    private <T> void probed(Item item, Function<Probe, Optional<T>> fact, Function<T, Verdict> judge) {
        newest(fact)
                .ifPresentOrElse(
                        said -> add(item, judge.apply(said.value()), said),
                        () -> checks.add(new Check(
                                item, State.UNKNOWN, new CheckDetail.Unsaid(), Optional.empty(), Optional.empty())));
    }

    private void add(Item item, Verdict verdict, Said<?> said) {
        boolean old = said.at().isBefore(now.minus(FRESH));
        checks.add(new Check(
                item,
                old ? State.UNKNOWN : verdict.state(),
                old,
                verdict.detail(),
                Optional.of(said.source()),
                Optional.of(said.at()),
                verdict.left().map(said.at()::plus)));
    }

    private boolean asksForLogs() {
        return fleet.versionAt(database, now)
                .filter(v -> v.live().stream().anyMatch(s -> s.kind() == Kind.LOG))
                .isPresent();
    }

    private Verdict logs(LogMode mode) {
        CheckDetail detail = new CheckDetail.Archiving(mode, asksForLogs(), nextDowntime(), database.zone());
        return switch (mode) {
            case ON -> new Verdict(State.READY, detail);
            case WAITING_FOR_RESTART -> new Verdict(State.WAITING, detail);
            case OFF -> Verdict.of(!asksForLogs(), detail);
        };
    }

    private Optional<Instant> nextDowntime() {
        return database.stopped().stream()
                .map(Database.Stop::from)
                .filter(now::isBefore)
                .min(Comparator.naturalOrder());
    }

    private static Verdict rights(Rights rights) {
        Set<String> lacking = new TreeSet<>(rights.needed());
        lacking.removeAll(rights.held());
        Set<String> beyond = new TreeSet<>(rights.held());
        beyond.removeAll(rights.needed());
        return Verdict.of(
                lacking.isEmpty() && beyond.isEmpty(),
                new CheckDetail.AccountRights(List.copyOf(lacking), List.copyOf(beyond)));
    }

    private static Verdict processes(Map<String, Boolean> processes) {
        List<String> up = new ArrayList<>();
        List<String> down = new ArrayList<>();
        new TreeMap<>(processes).forEach((name, runs) -> (runs ? up : down).add(name));
        return Verdict.of(down.isEmpty(), new CheckDetail.EngineProcesses(up, down));
    }

    private static Verdict scheduler(boolean on) {
        return Verdict.of(on, new CheckDetail.HostScheduler(on));
    }

    private record Versions(String client, String server) {}

    private static Optional<Versions> versions(Probe p) {
        return p.client().flatMap(c -> p.server().map(s -> new Versions(c, s)));
    }

    private static Verdict fit(Versions v) {
        boolean fits = leading(v.client()) >= leading(v.server());
        return Verdict.of(fits, new CheckDetail.ClientVersion(v.client(), v.server(), fits));
    }

    /** The first number in a version; 0 where there is none. */
    private static long leading(String version) {
        String digits = version.replaceFirst("^\\D*", "").replaceFirst("\\D.*$", "");
        return digits.isEmpty() || digits.length() > 18 ? 0 : Long.parseLong(digits);
    }

    private Optional<Said<Destination>> seen(String store) {
        return newest(p ->
                p.destinations().stream().filter(d -> d.store().equals(store)).findFirst());
    }

    private String name(String store) {
        return fleet.store(store).map(BackupStore::name).orElse(store);
    }

    private Set<String> stores() {
        return route.map(r -> Stream.of(r.dataStores(), r.logStores())
                        .flatMap(Set::stream)
                        .collect(Collectors.toCollection(LinkedHashSet::new)))
                .orElseGet(LinkedHashSet::new);
    }

    private void destinations() {
        if (route.isEmpty()) {
            checks.add(byRecords(Item.DESTINATION, State.NOT_READY, new CheckDetail.NoRoute()));
        }
        for (String store : stores()) {
            seen(store)
                    .ifPresentOrElse(
                            said -> add(Item.DESTINATION, destination(said.value()), said),
                            () -> checks.add(new Check(
                                    Item.DESTINATION,
                                    State.UNKNOWN,
                                    new CheckDetail.Untried(name(store)),
                                    Optional.empty(),
                                    Optional.empty())));
        }
    }

    private Verdict destination(Destination d) {
        if (!d.reached().orElse(true)) {
            return Verdict.of(false, tried(d, CheckDetail.Attempted.NOT_REACHED, OptionalDouble.empty()));
        }
        if (!d.written().orElse(true)) {
            return Verdict.of(false, tried(d, CheckDetail.Attempted.REFUSED, OptionalDouble.empty()));
        }
        OptionalDouble full = backed.fullBytes().isPresent() ? backed.fullBytes() : database.sizeBytes();
        boolean takesData =
                route.filter(r -> r.dataStores().contains(d.store())).isPresent();
        if (takesData
                && full.isPresent()
                && d.freeBytes().isPresent()
                && d.freeBytes().getAsDouble() < full.getAsDouble()) {
            return Verdict.of(false, tried(d, CheckDetail.Attempted.TOO_SMALL, full));
        }
        return d.written().isEmpty()
                ? new Verdict(State.UNKNOWN, tried(d, CheckDetail.Attempted.ONLY_REACHED, OptionalDouble.empty()))
                : Verdict.of(true, tried(d, CheckDetail.Attempted.WRITTEN, OptionalDouble.empty()));
    }

    private CheckDetail tried(Destination d, CheckDetail.Attempted writing, OptionalDouble needed) {
        return new CheckDetail.StoreTried(name(d.store()), writing, d.message(), d.freeBytes(), needed);
    }

    /** Whether the stores are other machines than the database's, and one stands elsewhere. */
    private void apart() {
        Set<String> stores = stores();
        if (stores.isEmpty()) {
            return;
        }
        Optional<String> own = database.particulars().host();
        List<Said<Destination>> hosts = stores.stream()
                .flatMap(s -> seen(s).filter(d -> d.value().host().isPresent()).stream())
                .toList();
        Optional<Said<Destination>> together = hosts.stream()
                .filter(d -> own.isPresent() && d.value().host().equals(own))
                .findFirst();
        boolean elsewhere = database.site().isPresent()
                && stores.stream()
                        .flatMap(s -> fleet.store(s).flatMap(BackupStore::site).stream())
                        .anyMatch(site -> !site.equals(database.site().get()));
        if (together.isPresent()) {
            add(
                    Item.APART,
                    Verdict.of(
                            false,
                            new CheckDetail.SharesHost(
                                    name(together.get().value().store()), own.orElseThrow())),
                    together.get());
        } else if (!elsewhere) {
            checks.add(byRecords(Item.APART, State.NOT_READY, new CheckDetail.SharesSite()));
        } else if (own.isEmpty() || hosts.size() < stores.size()) {
            checks.add(byRecords(Item.APART, State.UNKNOWN, new CheckDetail.HostsUnknown()));
        } else {
            add(
                    Item.APART,
                    Verdict.of(true, new CheckDetail.KeptApart()),
                    hosts.stream().min(Comparator.comparing(Said::at)).orElseThrow());
        }
    }

    private static Check byRecords(Item item, State state, CheckDetail detail) {
        return new Check(item, state, detail, Optional.of("fleet list"), Optional.empty());
    }

    private void logDisk() {
        if (asksForLogs() || newest(Probe::logDisk).isPresent()) {
            probed(Item.LOG_DISK, Probe::logDisk, Readiness::lasts);
        }
    }

    private static Verdict lasts(LogDisk disk) {
        if (disk.fillBytesPerSecond().isEmpty()) {
            boolean free = disk.freeBytes() > 0;
            return Verdict.of(
                    free,
                    new CheckDetail.LogDiskRoom(disk.freeBytes(), OptionalDouble.empty(), Optional.empty(), free));
        }
        double rate = disk.fillBytesPerSecond().getAsDouble();
        Duration left = Duration.ofSeconds((long) Math.min(disk.freeBytes() / rate, (double) FAR.toSeconds()));
        boolean enough = left.compareTo(LASTS) >= 0;
        return new Verdict(
                enough ? State.READY : State.NOT_READY,
                new CheckDetail.LogDiskRoom(
                        disk.freeBytes(), OptionalDouble.of(rate * 3600), Optional.of(left), enough),
                Optional.of(left));
    }

    private void backup() {
        checks.add(backed.newest()
                .map(b -> new Check(
                        Item.BACKUP,
                        State.READY,
                        new CheckDetail.Succeeded(b.kind(), b.byHand()),
                        Optional.of("history"),
                        Optional.of(b.ended())))
                .orElseGet(() -> new Check(
                        Item.BACKUP,
                        State.NOT_READY,
                        new CheckDetail.NeverSucceeded(),
                        Optional.of("history"),
                        Optional.empty())));
    }

    private static Optional<List<Component>> components(Probe p) {
        return Optional.of(p.components()).filter(c -> !c.isEmpty());
    }

    private Verdict consists(List<Component> found) {
        Set<String> stated = database.particulars().components().stream()
                .map(Component::name)
                .collect(Collectors.toCollection(TreeSet::new));
        Set<String> unstated = found.stream().map(Component::name).collect(Collectors.toCollection(TreeSet::new));
        Set<String> missing = new TreeSet<>(stated);
        missing.removeAll(unstated);
        unstated.removeAll(stated);
        boolean any = !stated.isEmpty();
        return Verdict.of(
                !any || unstated.isEmpty() && missing.isEmpty(),
                new CheckDetail.ConsistsOf(found, any ? List.copyOf(unstated) : List.of(), List.copyOf(missing), any));
    }

    private Verdict names(Map<String, String> names) {
        List<CheckDetail.OtherName> others = new ArrayList<>();
        new TreeMap<>(names).forEach((side, name) -> {
            if (!name.equals(database.name())) {
                others.add(new CheckDetail.OtherName(side, name, NearMiss.between(name, database.name())));
            }
        });
        return Verdict.of(
                others.isEmpty(),
                new CheckDetail.CalledBy(database.name(), List.copyOf(new TreeSet<>(names.keySet())), others));
    }
}
