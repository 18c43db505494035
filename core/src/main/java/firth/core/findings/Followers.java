package firth.core.findings;

import firth.core.forecast.Habits;
import firth.core.forecast.Landing;
import firth.core.forecast.Usual;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Role;
import firth.core.model.Route;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * What those who follow a policy have in common, as far as its rules can fit them or not: the slowest, and the worst
 * provided with stores.
 */
public final class Followers {

    /** A figure, and the database it is the figure of. */
    public record Of<T>(T value, String database) {}

    private final List<ZoneId> zones = new ArrayList<>();
    private final Map<Hazard, Of<Duration>> delay = new TreeMap<>();
    private final Map<Kind, Of<Duration>> takes = new TreeMap<>();
    private final Map<Provision, Of<Integer>> provided = new TreeMap<>();
    private final Set<Role> roles = new TreeSet<>();
    private final Map<String, Filled> filled = new TreeMap<>();
    private Optional<String> unlocked = Optional.empty();

    /**
     * What followers write to a store that says how much it holds.
     *
     * @param full bytes of a full of all of them
     * @param logsPerDay bytes of their logs of a day
     */
    record Filled(String store, Role role, double capacity, double full, double logsPerDay) {

        private Filled and(Filled other) {
            return new Filled(store, role, capacity, full + other.full, logsPerDay + other.logsPerDay);
        }
    }

    /** What a copies rule asks of the stores. */
    public enum Provision {
        STORES,
        MEDIA,
        OFFSITE,
        LOCKED
    }

    private Followers() {}

    /** Gathers what is known of the followers; none of them says nothing. */
    public static Followers of(Map<Database, Habits> followers, Fleet fleet) {
        Followers out = new Followers();
        followers.keySet().stream().map(Database::zone).distinct().forEach(out.zones::add);
        if (out.zones.isEmpty()) {
            out.zones.add(ZoneId.of("UTC"));
        }
        followers.forEach((database, habits) -> out.add(database, habits, fleet));
        return out;
    }

    /** What several groups of followers have in common. */
    public static Followers together(Collection<Followers> groups) {
        Followers out = new Followers();
        groups.stream().flatMap(g -> g.zones.stream()).distinct().forEach(out.zones::add);
        if (out.zones.isEmpty()) {
            out.zones.add(ZoneId.of("UTC"));
        }
        for (Followers g : groups) {
            g.delay.forEach((hazard, d) -> out.delay.merge(hazard, d, Followers::larger));
            g.takes.forEach((kind, d) -> out.takes.merge(kind, d, Followers::larger));
            g.provided.forEach((what, n) -> out.provided.merge(what, n, Followers::smaller));
            out.roles.addAll(g.roles);
            g.filled.forEach((store, f) -> out.filled.merge(store, f, Filled::and));
            out.unlocked = out.unlocked.or(() -> g.unlocked);
        }
        return out;
    }

    private void add(Database database, Habits habits, Fleet fleet) {
        Map<Hazard, Optional<Duration>> delays = delays(database, habits, fleet);
        delays.forEach((hazard, d) -> d.ifPresent(v -> larger(delay, hazard, v, database)));
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR)) {
            habits.usual(kind).map(Usual::median).ifPresent(d -> larger(takes, kind, d, database));
        }
        Set<String> ids = stores(database, habits, fleet);
        if (ids.isEmpty()) {
            return;
        }
        fills(habits, fleet.route(database), ids, fleet);
        Set<String> lockedInFact = allLandings(habits).stream()
                .filter(l -> l.locked().isPresent())
                .map(Landing::store)
                .collect(Collectors.toSet());
        List<BackupStore> stores =
                ids.stream().map(fleet::store).flatMap(Optional::stream).toList();
        if (lockedInFact.isEmpty()) {
            unlocked = unlocked.or(() -> Optional.of(database.name()));
        }
        smaller(Provision.STORES, stores.size(), database);
        smaller(
                Provision.MEDIA,
                (int) stores.stream()
                        .map(BackupStore::medium)
                        .flatMap(Optional::stream)
                        .distinct()
                        .count(),
                database);
        smaller(
                Provision.OFFSITE,
                (int) stores.stream().filter(s -> offsite(database, s)).count(),
                database);
        smaller(
                Provision.LOCKED,
                (int) stores.stream()
                        .filter(s -> s.lockable() || lockedInFact.contains(s.id()))
                        .count(),
                database);
    }

    /** What it writes to each store, as large as it has lately been. */
    private void fills(Habits habits, Optional<Route> route, Set<String> ids, Fleet fleet) {
        double full = habits.usual(Kind.FULL).map(Usual::bytes).orElse(0.0);
        double logs = habits.logs().known()
                ? habits.logs().bytesPerMs() * Duration.ofDays(1).toMillis()
                : 0;
        for (String id : ids) {
            Optional<BackupStore> store = fleet.store(id);
            store.flatMap(BackupStore::role).ifPresent(roles::add);
            boolean data = route.isEmpty() || route.get().dataStores().contains(id);
            boolean log = route.isEmpty() || route.get().logStores().contains(id);
            store.filter(s -> s.role().isPresent() && s.capacityBytes().isPresent())
                    .ifPresent(s -> filled.merge(
                            id,
                            new Filled(
                                    s.name(),
                                    s.role().orElseThrow(),
                                    s.capacityBytes().getAsDouble(),
                                    data ? full : 0,
                                    log ? logs : 0),
                            Filled::and));
        }
    }

    private static boolean offsite(Database database, BackupStore store) {
        return database.site().isPresent()
                && store.site().isPresent()
                && !store.site().equals(database.site());
    }

    private static List<Landing> allLandings(Habits habits) {
        List<Landing> out = new ArrayList<>();
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR, Kind.LOG)) {
            out.addAll(habits.landings(kind));
        }
        return out;
    }

    /** The stores its route names, else those its backups lie in. */
    private static Set<String> stores(Database database, Habits habits, Fleet fleet) {
        Optional<Route> route = fleet.route(database);
        if (route.isPresent()) {
            Set<String> out = new TreeSet<>(route.get().dataStores());
            out.addAll(route.get().logStores());
            return out;
        }
        return allLandings(habits).stream().map(Landing::store).collect(Collectors.toCollection(TreeSet::new));
    }

    /** How long after its end a log usually is where a hazard leaves it. */
    private static Map<Hazard, Optional<Duration>> delays(Database database, Habits habits, Fleet fleet) {
        Map<Hazard, Optional<Duration>> out = new EnumMap<>(Hazard.class);
        if (!habits.logs().known() || habits.logs().streamed()) {
            return out;
        }
        List<Landing> logs = habits.landings(Kind.LOG);
        out.put(Hazard.MISHAP, logs.stream().map(Landing::after).min(Duration::compareTo));
        out.put(
                Hazard.SITE_LOSS,
                logs.stream()
                        .filter(l -> fleet.store(l.store())
                                .filter(s -> offsite(database, s))
                                .isPresent())
                        .map(Landing::after)
                        .min(Duration::compareTo));
        out.put(
                Hazard.SABOTAGE,
                logs.stream()
                        .filter(l -> l.locked().isPresent())
                        .map(Landing::after)
                        .min(Duration::compareTo));
        return out;
    }

    private static <K> void larger(Map<K, Of<Duration>> found, K key, Duration value, Database database) {
        found.merge(key, new Of<>(value, database.name()), Followers::larger);
    }

    private static Of<Duration> larger(Of<Duration> one, Of<Duration> other) {
        return one.value.compareTo(other.value) >= 0 ? one : other;
    }

    private void smaller(Provision what, int value, Database database) {
        provided.merge(what, new Of<>(value, database.name()), Followers::smaller);
    }

    private static Of<Integer> smaller(Of<Integer> one, Of<Integer> other) {
        return one.value <= other.value ? one : other;
    }

    List<ZoneId> zones() {
        return zones;
    }

    /** How much later than their end logs are where a hazard leaves them, at the slowest follower. */
    Optional<Of<Duration>> delay(Hazard hazard) {
        return Optional.ofNullable(delay.get(hazard));
    }

    /** How long a kind of data backup usually takes at the slowest follower. */
    public Optional<Of<Duration>> takes(Kind kind) {
        return Optional.ofNullable(takes.get(kind));
    }

    /** The roles of the stores to which backups of any of them go; none where that is not known. */
    Set<Role> roles() {
        return roles;
    }

    /** What they write to each store that says how much it holds. */
    Collection<Filled> filled() {
        return filled.values();
    }

    /** One of whose copies no store locks any by itself. */
    Optional<String> unlocked() {
        return unlocked;
    }

    /** Whether there are any. */
    boolean areThere() {
        return !provided.isEmpty();
    }

    /** How many stores of a sort the follower worst provided has. */
    Optional<Of<Integer>> provided(Provision what) {
        return Optional.ofNullable(provided.get(what));
    }
}
