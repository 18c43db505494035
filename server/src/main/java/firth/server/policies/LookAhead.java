package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Forecast;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** What rules will do to the stores and to restores over the next days. */
@ApplicationScoped
public class LookAhead {

    static final int DAYS = 60;

    private final PolicyFollowers following;
    private final Evaluations evaluations;
    private final Forecasts forecasts;
    private final Lookout lookout;
    private final Foresights foresights;

    LookAhead(
            PolicyFollowers following,
            Evaluations evaluations,
            Forecasts forecasts,
            Lookout lookout,
            Foresights foresights) {
        this.foresights = foresights;
        this.following = following;
        this.evaluations = evaluations;
        this.forecasts = forecasts;
        this.lookout = lookout;
    }

    /**
     * Looks ahead under a policy as written and under the one in force.
     *
     * @param followers of which policy the databases are taken, mostly the same
     * @param enough how many of them are enough; the others are taken to go on as they are. Empty: all
     */
    Policies.Ahead ahead(PolicyVersion written, String followers, OptionalInt enough) {
        Lookout.View view = lookout.view("", "");
        Instant now = lookout.now();
        PolicyFollowers.Some some = following.some(followers, enough);
        Predicate<Database> follows = d -> some.ids().contains(d.id());
        Forecasts.FleetAhead all = forecasts.all();
        Map<String, double[]> room = new TreeMap<>();
        Map<String, Forecast> own = new HashMap<>();
        for (int i = 0; i < all.forecasts().size(); i++) {
            Forecast forecast = all.forecasts().get(i);
            Database database = all.fleet().databases().get(i);
            if (follows.test(database)) {
                own.put(database.id(), forecast);
            } else {
                forecast.room().forEach((s, r) -> add(room, s, r));
            }
        }
        FleetNow fleet = all.fleet().now();
        Evaluations.Fleetwide followed = evaluations.those(follows, view);
        List<Database> concerned =
                followed.answers().stream().map(Evaluation::database).toList();
        List<Forecast> before = followed.answers().stream()
                .map(e -> Optional.ofNullable(own.get(e.database().id()))
                        .orElseGet(() -> Forecast.of(
                                following.basis(followed, e), followed.fleet().fleet(), DAYS)))
                .toList();
        Optional<PolicyVersion> inForce = fleet.fleet().versionAt(followers, now);
        List<Forecast> after =
                inForce.filter(v -> isForecastAlike(written, v)).isPresent() ? before : under(followed, written);
        Instant from = lookout.standsAt();
        return new Policies.Ahead(
                null,
                from,
                DAYS,
                all.coming() + some.others(),
                stores(fleet, from, sum(room, before), sum(room, after), before, after),
                longest(concerned, before),
                longest(concerned, after),
                misses(concerned, after),
                foresights.see(
                        followed,
                        inForce.map(v -> new Foresights.Under(v, before)),
                        new Foresights.Under(written, after)));
    }

    /** Whether what is forecast under two versions is the same: stores, restores, and the reach that is held. */
    private static boolean isForecastAlike(PolicyVersion one, PolicyVersion other) {
        return one.takesUpAsMuchAs(other)
                && one.objective().reach().equals(other.objective().reach());
    }

    /** The first run of each schedule and database that will not fit its window, under the rules in force. */
    public List<Policies.Miss> missesAsItIs() {
        Forecasts.FleetAhead all = forecasts.all();
        return misses(all.fleet().databases(), all.forecasts());
    }

    /**
     * The whole fleet under the rules in force.
     *
     * @param room by store, bytes held: now and after each day
     * @param obsolete by store, bytes that become obsolete on each day; the first is 0
     * @param coming how many databases are still to be looked at; they are taken to go on holding what they hold
     */
    public record AsItIs(
            Instant from, int days, Map<String, double[]> room, Map<String, double[]> obsolete, int coming) {}

    /** Looks ahead at the whole fleet under the rules in force. */
    public AsItIs fleetwide() {
        Forecasts.FleetAhead all = forecasts.all();
        List<Forecast> found = all.forecasts();
        Map<String, double[]> obsolete = new TreeMap<>();
        found.forEach(f -> f.obsolete().forEach((s, o) -> add(obsolete, s, o)));
        return new AsItIs(lookout.standsAt(), DAYS, sum(Map.of(), found), obsolete, all.coming());
    }

    /** Bytes a store is to hold of a database after so many days. */
    public Map<String, Double> held(String store, int days) {
        Forecasts.FleetAhead all = forecasts.all();
        Map<String, Double> out = new HashMap<>();
        for (int i = 0; i < all.forecasts().size(); i++) {
            double[] room = all.forecasts().get(i).room().get(store);
            if (room != null) {
                out.put(all.fleet().databases().get(i).id(), room[days]);
            }
        }
        return out;
    }

    private List<Forecast> under(Evaluations.Fleetwide all, PolicyVersion written) {
        Fleet fleet = all.fleet().fleet().replaying(written);
        return all.answers().parallelStream()
                .map(e -> {
                    Database database = e.database().following(written.id());
                    return Forecast.of(following.basis(all, e).as(database), fleet, DAYS);
                })
                .toList();
    }

    private static void add(Map<String, double[]> room, String store, double[] more) {
        double[] sum = room.computeIfAbsent(store, s -> new double[DAYS + 1]);
        for (int d = 0; d <= DAYS; d++) {
            sum[d] += more[d];
        }
    }

    private static Map<String, double[]> sum(Map<String, double[]> others, List<Forecast> forecasts) {
        Map<String, double[]> out = new TreeMap<>();
        others.forEach((s, r) -> add(out, s, r));
        forecasts.forEach(f -> f.room().forEach((s, r) -> add(out, s, r)));
        return out;
    }

    /** The stores the concerned databases use, the near ones first. */
    private static List<Policies.StoreAhead> stores(
            FleetNow fleet,
            Instant from,
            Map<String, double[]> before,
            Map<String, double[]> after,
            List<Forecast> ownBefore,
            List<Forecast> ownAfter) {
        TreeSet<String> used = new TreeSet<>();
        ownBefore.forEach(f -> used.addAll(f.room().keySet()));
        ownAfter.forEach(f -> used.addAll(f.room().keySet()));
        List<Policies.StoreAhead> out = new ArrayList<>();
        for (String id : used) {
            Optional<BackupStore> store = fleet.fleet().store(id);
            Double capacity = store.filter(s -> s.capacityBytes().isPresent())
                    .map(s -> s.capacityBytes().getAsDouble())
                    .orElse(null);
            double[] now = before.getOrDefault(id, new double[DAYS + 1]);
            double[] then = after.getOrDefault(id, new double[DAYS + 1]);
            out.add(new Policies.StoreAhead(
                    id,
                    fleet.storeName(id),
                    store.flatMap(BackupStore::role).map(Role::word).orElse(""),
                    capacity,
                    Arrays.stream(now).boxed().toList(),
                    Arrays.stream(then).boxed().toList(),
                    full(from, capacity, now),
                    full(from, capacity, then)));
        }
        out.sort(Comparator.comparingInt(s -> List.of("near", "far", "deep", "").indexOf(s.role())));
        return out;
    }

    private static @Nullable Instant full(Instant from, @Nullable Double capacity, double[] room) {
        for (int d = 0; d <= DAYS && capacity != null; d++) {
            if (room[d] > capacity) {
                return from.plus(Duration.ofDays(d));
            }
        }
        return null;
    }

    private static Policies.@Nullable Restore longest(List<Database> databases, List<Forecast> forecasts) {
        Policies.Restore out = null;
        for (int i = 0; i < forecasts.size(); i++) {
            String name = databases.get(i).name();
            Policies.Restore own = forecasts
                    .get(i)
                    .longestRestore()
                    .map(d -> new Policies.Restore(name, CoverRows.seconds(d)))
                    .orElse(null);
            out = out == null || own != null && own.seconds() > out.seconds() ? own : out;
        }
        return out;
    }

    private static List<Policies.Miss> misses(List<Database> databases, List<Forecast> forecasts) {
        List<Policies.Miss> out = new ArrayList<>();
        for (int i = 0; i < forecasts.size(); i++) {
            String name = databases.get(i).name();
            forecasts.get(i).misses().stream()
                    .map(m -> new Policies.Miss(
                            name,
                            m.slot().schedule(),
                            m.slot().open(),
                            CoverRows.seconds(m.expected()),
                            CoverRows.seconds(
                                    Duration.between(m.slot().open(), m.slot().close()))))
                    .forEach(out::add);
        }
        return out;
    }
}
