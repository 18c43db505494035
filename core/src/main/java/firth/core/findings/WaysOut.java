package firth.core.findings;

import firth.core.cover.Hole;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.forecast.Trial;
import firth.core.history.DatabaseFacts;
import firth.core.model.BackupStore;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Tries, in thought, whatever might end a finding, and evaluates the facts with it done (docs/semantics.md, "Ways out").
 */
final class WaysOut {

    /** From the least effort to the most. */
    private static final List<Kind> KINDS = List.of(Kind.INCR, Kind.DIFF, Kind.FULL);

    private static final int STORES = 3;

    private final Evaluation e;
    private final Fleet fleet;
    private final Trial trial;

    WaysOut(Evaluation e, DatabaseFacts facts, Fleet fleet) {
        this.e = e;
        this.fleet = fleet;
        this.trial = new Trial(facts, fleet, e.asOf());
    }

    /** Against cover that does not go on to now. */
    List<WayOut> ofCover() {
        List<WayOut> out = new ArrayList<>();
        boolean logs = live().anyMatch(s -> s.kind() == Kind.LOG);
        if (logs) {
            trial.catchUp()
                    .ifPresent(d -> out.add(
                            way(WayOut.Action.CATCH_UP, Optional.empty(), first(Kind.LOG), d, WaysOut::goesOn)));
        }
        for (Kind kind : KINDS) {
            if (kind == Kind.FULL || isTaken(kind)) {
                taken(kind, out);
            }
        }
        return inOrder(out);
    }

    /** Under mishap one store is as good as another, if it is one of the fleet: what comes of it is evaluated once. */
    private void taken(Kind kind, List<WayOut> out) {
        Map<Boolean, WayOut> tried = new HashMap<>();
        for (String store : trial.storesFor(kind).stream().limit(STORES).toList()) {
            boolean known = fleet.store(store).isPresent();
            WayOut same = tried.get(known);
            if (same != null) {
                out.add(same.in(store, storeName(store)));
                continue;
            }
            trial.taken(kind, store)
                    .map(d -> way(WayOut.Action.TAKE, Optional.of(kind), store, d, WaysOut::goesOn))
                    .ifPresent(w -> {
                        tried.put(known, w);
                        out.add(w);
                    });
        }
    }

    /** Against a hazard that would leave too little. */
    List<WayOut> ofHazard(Hazard hazard) {
        List<WayOut> out = new ArrayList<>();
        for (BackupStore store : fleet.stores()) {
            boolean survives = hazard == Hazard.SITE_LOSS
                    ? store.site().isPresent()
                            && e.database().site().isPresent()
                            && !store.site().equals(e.database().site())
                    : store.lockable();
            if (survives) {
                trial.copiedTo(store)
                        .ifPresent(d -> out.add(way(
                                WayOut.Action.COPY, Optional.empty(), store.id(), d, after -> within(after, hazard))));
            }
        }
        return inOrder(out);
    }

    private java.util.stream.Stream<firth.core.model.Schedule> live() {
        return e.version().filter(PolicyVersion::enabled).stream().flatMap(v -> v.live().stream());
    }

    private boolean isTaken(Kind kind) {
        return live().anyMatch(s -> s.kind() == kind)
                || trial.habits().usual(kind).isPresent();
    }

    private String first(Kind kind) {
        return trial.storesFor(kind).stream().findFirst().orElse("");
    }

    private static boolean goesOn(Evaluation after) {
        return after.grade() != Grade.STRANDED && !after.mishap().isMissed();
    }

    private static boolean within(Evaluation after, Hazard hazard) {
        return after.under(hazard).recoveryPoint().isPresent()
                && !after.under(hazard).isMissed();
    }

    private WayOut way(
            WayOut.Action action, Optional<Kind> kind, String store, Trial.Done done, Predicate<Evaluation> isOver) {
        Evaluation after = Evaluation.of(done.facts(), fleet, done.at(), new Span(done.at(), done.at()));
        Optional<Span> stays = stays(after);
        Optional<Instant> leaves =
                stays.flatMap(s -> e.reach().leaves(s.to(), e.database().clock()));
        return new WayOut(
                action,
                kind,
                store,
                done.takes(),
                done.bytes(),
                done.at(),
                isOver.test(after),
                stays,
                leaves,
                storeName(store));
    }

    /** The hole that ends where cover resumes: the newest between pieces, if it ends after the recovery point there is now. */
    private Optional<Span> stays(Evaluation after) {
        Instant point = e.mishap().recoveryPoint().orElse(e.database().inServiceFrom());
        return Hole.between(after.mishap().restorable(), e.database().inServiceFrom(), after.asOf(), after.gaps())
                .stream()
                .filter(h -> h.where() == Hole.Where.BETWEEN && h.to().isAfter(point))
                .reduce((one, other) -> other)
                .map(h -> new Span(h.from(), h.to()));
    }

    private String storeName(String store) {
        return store.isEmpty() ? "" : fleet.store(store).map(BackupStore::name).orElse(store);
    }

    /** What ends it first; what does not comes last. */
    private static List<WayOut> inOrder(List<WayOut> out) {
        out.sort(Comparator.comparing((WayOut w) -> !w.ends())
                .thenComparing(WayOut::resumes)
                .thenComparing(w ->
                        w.stays().map(s -> Duration.between(s.from(), s.to())).orElse(Duration.ZERO))
                .thenComparing(w -> w.kind().map(KINDS::indexOf).orElse(-1)));
        return out;
    }
}
