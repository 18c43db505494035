package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Fare;
import firth.core.forecast.Forecast;
import firth.core.forecast.Foresight;
import firth.core.forecast.Unkept;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.time.Spans;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.PolicyFollowers;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/** How those who follow rules will fare, and what they lose (docs/foresight.md). */
@ApplicationScoped
class Foresights {

    private final PolicyFollowers following;
    private final Map<String, Before> before = new ConcurrentHashMap<>();

    private record Before(PolicyVersion version, List<Evaluation> answers, List<Optional<Foresight>> seen) {}

    Foresights(PolicyFollowers following) {
        this.following = following;
    }

    /** One set of rules, and what is forecast under it of each database, in the order of the answers. */
    record Under(PolicyVersion version, List<Forecast> room) {}

    /**
     * Looks ahead under both.
     *
     * @param all the databases
     * @param asItIs empty where nothing is in force
     */
    Policies.Foreseen see(Evaluations.Fleetwide all, Optional<Under> asItIs, Under written) {
        List<Optional<Foresight>> was = asItIs.map(u -> kept(all, u)).orElse(List.of());
        List<Optional<Foresight>> will = under(all, written, all.fleet().fleet().replaying(written.version));
        List<Integer> told = IntStream.range(0, will.size())
                .filter(i -> isTold(was, will, i))
                .boxed()
                .toList();
        List<Fare> before = told.stream()
                .flatMap(i -> was.isEmpty() ? Stream.empty() : fare(was, i))
                .toList();
        List<Fare> after = told.stream().flatMap(i -> fare(will, i)).toList();
        List<Policies.Worse> worse = new ArrayList<>();
        for (int k = 0; k < before.size(); k++) {
            List<Fare.Worse> in = after.get(k).worseThan(before.get(k));
            if (!in.isEmpty()) {
                worse.add(new Policies.Worse(
                        database(all, told.get(k)).id(),
                        name(all, told.get(k)),
                        in.stream().map(Fare.Worse::word).toList()));
            }
        }
        return new Policies.Foreseen(
                CoverRows.seconds(will.stream()
                        .flatMap(Optional::stream)
                        .map(Foresight::over)
                        .min(Duration::compareTo)
                        .orElse(Duration.ZERO)),
                was.isEmpty() ? null : FaredViews.of(before, k -> name(all, told.get(k))),
                FaredViews.of(after, k -> name(all, told.get(k))),
                IntStream.range(0, will.size())
                        .filter(i -> !isTold(was, will, i))
                        .mapToObj(i -> name(all, i))
                        .toList(),
                worse,
                lost(all, asItIs, written));
    }

    /** Whether both can be told of one. */
    private static boolean isTold(List<Optional<Foresight>> was, List<Optional<Foresight>> will, int i) {
        return will.get(i).isPresent() && (was.isEmpty() || was.get(i).isPresent());
    }

    private static Stream<Fare> fare(List<Optional<Foresight>> of, int i) {
        return of.get(i).map(Foresight::fare).stream();
    }

    private static Database database(Evaluations.Fleetwide all, int i) {
        return all.answers().get(i).database();
    }

    private static String name(Evaluations.Fleetwide all, int i) {
        return all.fleet().databaseName(database(all, i).id());
    }

    /** What comes of the version in force, worked out once for as long as the answers stay the same. */
    private List<Optional<Foresight>> kept(Evaluations.Fleetwide all, Under asItIs) {
        Before known = before.get(asItIs.version.id());
        if (known == null
                || !known.version.equals(asItIs.version)
                || !Consequences.same(known.answers, all.answers())) {
            known = new Before(
                    asItIs.version,
                    all.answers(),
                    under(all, asItIs, all.fleet().fleet()));
            before.put(asItIs.version.id(), known);
        }
        return known.seen;
    }

    private List<Optional<Foresight>> under(Evaluations.Fleetwide all, Under rules, Fleet fleet) {
        return IntStream.range(0, all.answers().size())
                .parallel()
                .mapToObj(i -> Foresight.of(
                        following
                                .basis(all, all.answers().get(i))
                                .as(database(all, i).following(rules.version.id())),
                        fleet,
                        rules.room.get(i)))
                .toList();
    }

    /** Of one whose retention is the same nothing is lost. */
    private static List<Policies.Lost> lost(Evaluations.Fleetwide all, Optional<Under> asItIs, Under written) {
        if (asItIs.filter(u -> u.version.retainsAsMuchAs(written.version)).isPresent()) {
            return List.of();
        }
        return IntStream.range(0, all.answers().size())
                .parallel()
                .mapToObj(i -> {
                    Spans before = asItIs.map(u -> unkept(all, i, u.version)).orElse(Spans.NONE);
                    Spans lost = unkept(all, i, written.version).without(before);
                    return lost.isEmpty()
                            ? Stream.<Policies.Lost>empty()
                            : Stream.of(
                                    lost(all, i, lost, promised(all.answers().get(i), written.version)));
                })
                .flatMap(s -> s)
                .toList();
    }

    private static Spans unkept(Evaluations.Fleetwide all, int i, PolicyVersion version) {
        Evaluation e = all.answers().get(i);
        DatabaseFacts facts = all.facts(e);
        return Unkept.of(
                new DatabaseFacts(
                        e.database().following(version.id()), facts.history(), facts.holds(), facts.closures()),
                all.fleet().fleet().replaying(version),
                e.asOf());
    }

    /** The reach that is promised, up to now. */
    private static Spans promised(Evaluation e, PolicyVersion version) {
        long now = e.asOf().toEpochMilli();
        return version.objective()
                .reach()
                .filter(r -> version.enabled())
                .map(r -> Spans.of(e.database().clock().before(now, r.toMillis()), now + 1))
                .orElse(Spans.NONE);
    }

    private static Policies.Lost lost(Evaluations.Fleetwide all, int i, Spans lost, Spans promised) {
        return new Policies.Lost(
                database(all, i).id(),
                name(all, i),
                Instant.ofEpochMilli(lost.from(0)),
                Instant.ofEpochMilli(lost.to(lost.count() - 1)),
                seconds(lost),
                seconds(lost.and(promised)),
                lost.count());
    }

    private static double seconds(Spans of) {
        long out = 0;
        for (int i = 0; i < of.count(); i++) {
            out += of.to(i) - of.from(i);
        }
        return out / 1000.0;
    }
}
