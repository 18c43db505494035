package firth.server.evaluation;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Followers;
import firth.core.forecast.Forecast;
import firth.core.forecast.Habits;
import firth.core.forecast.QuietMoment;
import firth.core.history.History;
import firth.core.model.Database;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Collectors;

/** The databases that follow a policy now, as their rules see them. */
@ApplicationScoped
public class PolicyFollowers {

    private final Evaluations evaluations;
    private final Lookout lookout;
    /** What was worked out for an answer, for as long as somebody holds that very answer. */
    private final Cache<Evaluation, Forecast.Basis> bases =
            Caffeine.newBuilder().weakKeys().build();

    PolicyFollowers(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /** Those who follow a policy now, evaluated as of the newest facts. */
    public Evaluations.Fleetwide of(String policy) {
        Instant now = lookout.now();
        return evaluations.those(d -> d.policyAt(now).filter(policy::equals).isPresent(), lookout.view("", ""));
    }

    /** Followers of a policy by id, and how many more there are. */
    public record Some(Set<String> ids, int others) {}

    /** Those who follow a policy now. Where so many are enough, they are taken evenly from all of them. */
    public Some some(String policy, OptionalInt enough) {
        Instant now = lookout.now();
        FleetNow fleet = evaluations.fleetNow();
        List<String> all = fleet.databases().values().stream()
                .filter(d -> d.policyAt(now).filter(policy::equals).isPresent())
                .map(Database::id)
                .filter(id -> !fleet.standbys().isStandby(id))
                .toList();
        int many = Math.min(enough.orElse(all.size()), all.size());
        Set<String> ids = new HashSet<>();
        for (int i = 0; i < many; i++) {
            ids.add(all.get((int) ((long) i * all.size() / many)));
        }
        return new Some(ids, all.size() - many);
    }

    /** Some databases, evaluated as of the newest facts. */
    public Evaluations.Fleetwide of(Some some) {
        return evaluations.those(d -> some.ids.contains(d.id()), lookout.view("", ""));
    }

    /** What a look ahead at a database starts from. */
    public Forecast.Basis basis(Evaluations.Fleetwide all, Evaluation answer) {
        return bases.get(
                answer, a -> new Forecast.Basis(all.facts(a), all.fleet().fleet(), a.asOf()));
    }

    /** What the followers have in common. */
    public Followers inCommon(Evaluations.Fleetwide all) {
        Map<Database, Habits> habits = new LinkedHashMap<>();
        List<Forecast.Basis> found =
                all.answers().parallelStream().map(a -> basis(all, a)).toList();
        for (int i = 0; i < found.size(); i++) {
            habits.put(all.answers().get(i).database(), found.get(i).habits());
        }
        return Followers.of(habits, all.fleet().fleet());
    }

    /** When rules could change without catching anybody inside a window. */
    public Optional<QuietMoment> quiet(Evaluations.Fleetwide all) {
        Map<Database, History> histories = new LinkedHashMap<>();
        all.answers().forEach(a -> histories.put(a.database(), a.history()));
        return QuietMoment.from(
                lookout.now(), histories, all.fleet().fleet(), all.fleet().closures());
    }

    /** The zone most of those who follow a policy are in; UTC where nobody does. */
    public ZoneId zone(String policy) {
        Instant now = lookout.now();
        Map<ZoneId, Long> zones = evaluations.fleetNow().databases().values().stream()
                .filter(d -> d.policyAt(now).filter(policy::equals).isPresent())
                .collect(Collectors.groupingBy(Database::zone, Collectors.counting()));
        return zones.entrySet().stream()
                .max(Map.Entry.<ZoneId, Long>comparingByValue()
                        .thenComparing(e -> e.getKey().getId(), Comparator.reverseOrder()))
                .map(Map.Entry::getKey)
                .orElse(ZoneOffset.UTC);
    }
}
