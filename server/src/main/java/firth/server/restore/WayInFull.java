package firth.server.restore;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Lineage;
import firth.core.restore.Planning;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.engines.Engines;
import firth.engines.Recipe;
import firth.engines.mariadb.MariadbRecipe;
import firth.engines.postgres.PostgresRecipe;
import firth.engines.sqlite.SqliteRecipe;
import firth.exchange.Told;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The best way of a plan in full: its logs one by one, and how the engine itself is told to go it. */
@ApplicationScoped
public class WayInFull {

    private static final Map<String, Recipe.Maker> MAKERS =
            Map.of("postgresql", new PostgresRecipe(), "mariadb", new MariadbRecipe(), "sqlite", new SqliteRecipe());

    private static final Set<String> READERS = Set.of("firth observe", "firth runner");

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    WayInFull(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /**
     * A way in full.
     *
     * @param recipe absent where no engine Firth has recipes for is named, or a copy was told of and never looked at in its store
     */
    record InFull(List<Checklist.LogLine> logs, @Nullable Recipe recipe) {}

    InFull of(String database, PlanAsked asked) {
        Lookout.View view = lookout.view(asked.asOf(), "");
        Evaluations.Fleetwide one = evaluations.one(database, view);
        Evaluation e = one.answers().get(0);
        DatabaseFacts own = one.facts(e);
        Planning planning = new Planning(own, one.fleet().fleet(), view.asOf(), asked.hazard(), asked.losses());
        try (Snapshot snapshot = facts.store().read()) {
            List<Way> ways = Plans.ways(e.database(), planning, asked, snapshot);
            List<Checklist.LogLine> logs = ways.stream()
                    .limit(1)
                    .flatMap(w -> w.logs().stream())
                    .map(s -> line(e.history(), s, snapshot))
                    .toList();
            Optional<Recipe> recipe = ways.stream()
                    .findFirst()
                    .filter(w -> asked.positions().size() <= 1)
                    .flatMap(w -> asked.positions().isEmpty()
                            ? recipe(own, w, asked.moment(), snapshot)
                            : recipe(own, w, asked.moment(), stop(asked, w, e.history()), snapshot));
            return new InFull(logs, recipe.orElse(null));
        }
    }

    private static Optional<Recipe.Maker> maker(Database d) {
        return d.engine().map(Engines::word).map(MAKERS::get);
    }

    /** Whether there is a recipe for the engine, and the first backup of a way was looked at in its store. */
    static boolean isScripted(Database d, Way way, Snapshot snapshot) {
        return maker(d).isPresent()
                && parts(way.chain().subList(0, 1), s -> OptionalLong.empty(), snapshot).stream()
                        .noneMatch(p -> p.path().isEmpty());
    }

    /**
     * How the engine itself is told to go a way; empty where there is no recipe for it, or a copy was not looked into.
     *
     * @param moment to stop at; empty: all of its logs
     */
    public static Optional<Recipe> recipe(DatabaseFacts own, Way way, Optional<Instant> moment, Snapshot snapshot) {
        return recipe(own, way, moment, OptionalLong.empty(), snapshot);
    }

    /** The position to stop in front of: none where all the logs of the way end there, for the engine would wait for a record beyond. */
    private static OptionalLong stop(PlanAsked asked, Way way, History history) {
        List<Step> logs = way.logs();
        if (logs.isEmpty()) {
            return OptionalLong.empty();
        }
        int last = history.row(logs.get(logs.size() - 1).backup()).orElseThrow();
        return asked.positions().values().stream()
                .mapToLong(p -> p)
                .filter(p -> p < history.logTo(last))
                .findFirst();
    }

    private static Optional<Recipe> recipe(
            DatabaseFacts own, Way way, Optional<Instant> moment, OptionalLong stop, Snapshot snapshot) {
        Database d = own.database();
        if (!isScripted(d, way, snapshot)) {
            return Optional.empty();
        }
        Optional<Recipe.Maker> maker = maker(d);
        List<Recipe.Part> chain = parts(way.chain(), s -> OptionalLong.empty(), snapshot);
        List<Recipe.Part> logs =
                parts(Plans.holdingSomething(way, own.history()), s -> end(s, own.history()), snapshot);
        if (maker.isEmpty()
                || Stream.concat(chain.stream(), logs.stream())
                        .anyMatch(p -> p.path().isEmpty())) {
            return Optional.empty();
        }
        Optional<String> from = Told.written(snapshot.rest(way.tip())).map(Told.Written::to);
        String last = way.steps().get(way.steps().size() - 1).lineage();
        return maker.get()
                .recipe(new Recipe.Ask(
                        d.name(),
                        moment,
                        Plans.lastCommit(way, own.history(), snapshot),
                        stop.isPresent() ? stop : leftAt(d, last, way),
                        last,
                        chain,
                        logs,
                        from));
    }

    /**
     * Where a way ends in a lineage that goes on after the one asked for has left it: the place to stop, for to the engine all of a log
     * it is given is log of that lineage.
     */
    private static OptionalLong leftAt(Database d, String last, Way way) {
        Map<String, Lineage> lineages =
                d.lineages().stream().collect(Collectors.toMap(Lineage::id, l -> l, (one, other) -> one));
        Lineage at = lineages.get(way.lineage());
        while (at != null && !at.id().equals(last)) {
            if (at.parent().filter(last::equals).isPresent() && !way.logs().isEmpty()) {
                return OptionalLong.of(at.forkPos().getOrDefault(Database.DEFAULT_STREAM, 0L));
            }
            at = at.parent().map(lineages::get).orElse(null);
        }
        return OptionalLong.empty();
    }

    private static OptionalLong end(Step log, History history) {
        return OptionalLong.of(history.logTo(history.row(log.backup()).orElseThrow()));
    }

    /** What is read, with its path; without one where nobody looked into it, for what a job wrote there is not known. */
    private static List<Recipe.Part> parts(List<Step> steps, Function<Step, OptionalLong> end, Snapshot snapshot) {
        return steps.stream()
                .map(s -> {
                    String told = snapshot.copyTold(s.backup(), s.store());
                    return new Recipe.Part(
                            s.kind(),
                            s.store(),
                            isLookedInto(s, told, snapshot) ? Told.path(told).orElse("") : "",
                            end.apply(s));
                })
                .toList();
    }

    /** Whether somebody read in a copy what the engine wrote there: that a file is there, or adds up, does not say what it is. */
    private static boolean isLookedInto(Step s, String told, Snapshot snapshot) {
        Told.Known known = Told.evidence(told);
        return known.is().compareTo(Evidence.READ) >= 0
                && (known.is() == Evidence.RESTORED
                        || known.by().filter(READERS::contains).isPresent()
                        || Told.written(snapshot.rest(s.backup())).isPresent());
    }

    private static Checklist.LogLine line(History h, Step s, Snapshot snapshot) {
        int i = h.row(s.backup()).orElseThrow();
        String told = snapshot.copyTold(s.backup(), s.store());
        return new Checklist.LogLine(
                s.backup(),
                s.store(),
                s.stream().orElse(""),
                h.logFrom(i),
                h.logTo(i),
                Told.path(told).orElse(""),
                Told.checksum(told).orElse(""),
                Told.key(snapshot.rest(s.backup())).orElse(""));
    }
}
