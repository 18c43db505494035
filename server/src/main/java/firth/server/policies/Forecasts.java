package firth.server.policies;

import firth.core.forecast.Forecast;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;

/**
 * What the backups of each database will take up under the rules in force. A look ahead is made anew when the rules or the data
 * backups of its database change, and after an hour. It is long work: of a few databases it is done at once, of many one after the other
 * behind whoever asks, who is told how many are still to come (docs/forecast.md, "Kept").
 */
@ApplicationScoped
public class Forecasts {

    private static final Logger LOG = Logger.getLogger(Forecasts.class);

    /** So many are made while somebody waits. */
    private static final int AT_ONCE = 48;

    private static final Duration FRESH = Duration.ofHours(1);

    private final Summaries summaries;
    private final SeedPart part;
    private final Evaluations evaluations;
    private final Lookout lookout;
    private final Map<String, Known> known = new ConcurrentHashMap<>();
    private final Set<String> wanted = new LinkedHashSet<>();
    private final ExecutorService behind = Executors.newSingleThreadExecutor(r -> {
        Thread thread = new Thread(r, "forecasts");
        thread.setDaemon(true);
        return thread;
    });

    Forecasts(Summaries summaries, SeedPart part, Evaluations evaluations, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    @PreDestroy
    void stop() {
        behind.shutdownNow();
    }

    private record Known(SeedPart.Seed seed, Instant made, Forecast forecast) {

        boolean fits(SeedPart.Seed now, Instant moment) {
            return seed.rules().equals(now.rules())
                    && seed.data() == now.data()
                    && Duration.between(made, moment).abs().compareTo(FRESH) < 0;
        }
    }

    /**
     * Databases with what is known of their next weeks.
     *
     * @param forecasts in the order of the databases; of those that are still to be looked at what they hold now stays
     * @param coming how many are still to be looked at
     */
    record FleetAhead(Parts<SeedPart.Seed> fleet, List<Forecast> forecasts, int coming) {}

    FleetAhead all() {
        return some(d -> true);
    }

    FleetAhead some(Predicate<Database> which) {
        Lookout.View view = lookout.view("", "");
        Parts<SeedPart.Seed> fleet = summaries.some(which, view, part);
        List<Integer> unfit = new ArrayList<>();
        for (int i = 0; i < fleet.each().size(); i++) {
            Known before = known.get(fleet.databases().get(i).id());
            if (before == null || !before.fits(fleet.each().get(i), view.asOf())) {
                unfit.add(i);
            }
        }
        if (unfit.size() <= AT_ONCE) {
            make(fleet, unfit, view.asOf());
        } else {
            later(unfit.stream().map(i -> fleet.databases().get(i).id()).toList());
        }
        List<Forecast> out = new ArrayList<>();
        int coming = 0;
        for (int i = 0; i < fleet.each().size(); i++) {
            Known found = known.get(fleet.databases().get(i).id());
            coming += found == null ? 1 : 0;
            out.add(found == null ? standing(fleet.each().get(i)) : found.forecast);
        }
        return new FleetAhead(fleet, out, coming);
    }

    private static Forecast standing(SeedPart.Seed seed) {
        Map<String, double[]> room = new TreeMap<>();
        Map<String, double[]> obsolete = new TreeMap<>();
        seed.held().forEach((store, bytes) -> {
            double[] flat = new double[LookAhead.DAYS + 1];
            Arrays.fill(flat, bytes);
            room.put(store, flat);
            obsolete.put(store, new double[LookAhead.DAYS + 1]);
        });
        return new Forecast(room, obsolete, Optional.empty(), Optional.empty(), List.of());
    }

    private void make(Parts<SeedPart.Seed> fleet, List<Integer> which, Instant now) {
        if (which.isEmpty()) {
            return;
        }
        Map<String, SeedPart.Seed> seeds = new TreeMap<>();
        which.forEach(i -> seeds.put(fleet.databases().get(i).id(), fleet.each().get(i)));
        evaluations.ofFacts(seeds.keySet(), (f, facts) -> {
            Fleet rules = f.fleet();
            Forecast forecast = Forecast.of(new Forecast.Basis(facts, rules, now), rules, LookAhead.DAYS);
            SeedPart.@Nullable Seed seed = seeds.get(facts.database().id());
            if (seed != null) {
                known.put(facts.database().id(), new Known(seed, now, forecast));
            }
            return forecast;
        });
    }

    private void later(List<String> databases) {
        synchronized (wanted) {
            boolean idle = wanted.isEmpty();
            wanted.addAll(databases);
            if (idle) {
                behind.execute(this::work);
            }
        }
    }

    /** Makes what is wanted, a few at a time. */
    private void work() {
        while (!Thread.currentThread().isInterrupted()) {
            Set<String> few = new HashSet<>();
            synchronized (wanted) {
                wanted.stream().limit(AT_ONCE).forEach(few::add);
            }
            if (few.isEmpty()) {
                return;
            }
            try {
                Lookout.View view = lookout.view("", "");
                Parts<SeedPart.Seed> fleet = summaries.some(few, view, part);
                List<Integer> all = new ArrayList<>();
                for (int i = 0; i < fleet.each().size(); i++) {
                    all.add(i);
                }
                make(fleet, all, view.asOf());
            } catch (RuntimeException e) {
                LOG.warn("Some databases could not be looked ahead at", e);
            }
            synchronized (wanted) {
                wanted.removeAll(few);
            }
        }
    }
}
