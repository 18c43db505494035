package firth.core.restore;

import firth.core.cover.Losses;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** What would be left of one database if chosen things were gone (docs/semantics.md, "Loss rehearsal"). */
public final class LossRehearsal {

    private LossRehearsal() {}

    /**
     * What is left.
     *
     * @param reached the newest moment that could be restored; empty where none could
     * @param way the quickest way there
     * @param cure the cheapest change that would have left something, where nothing is left
     */
    public record Left(Optional<Instant> reached, Optional<Way> way, Optional<Cure> cure) {}

    /**
     * A change after which something would be left.
     *
     * @param what {@code lock} copies that are there already; {@code copy} them to another store; {@code none}: nothing that is
     *     there could be kept anywhere
     * @param store where; empty for {@code none}
     * @param backups what is to be kept there: the data backups from the full to the tip, and the logs up to when the
     *     database came into service where the tip is older
     * @param bytes how much more would lie there, as far as sizes are known
     */
    public record Cure(String what, Optional<String> store, List<String> backups, double bytes) {}

    /**
     * Judges the loss.
     *
     * @param moment at which it happens
     * @param hazard what happens to copies beyond the losses
     */
    public static Left of(DatabaseFacts facts, Fleet fleet, Instant moment, Hazard hazard, Losses losses) {
        RestorePlan plan = new Planning(facts, fleet, moment, hazard, losses).latest();
        return plan.isPossible()
                ? new Left(plan.target(), plan.ways().stream().findFirst(), Optional.empty())
                : new Left(Optional.empty(), Optional.empty(), cure(facts, fleet, moment, hazard, losses));
    }

    /** Tried with what is there now: the newest way back, what it needs at least kept where it would survive. */
    private static Optional<Cure> cure(DatabaseFacts facts, Fleet fleet, Instant moment, Hazard hazard, Losses losses) {
        Optional<Way> way = new Planning(facts, fleet, moment, Hazard.MISHAP, Losses.NONE).newestWay();
        if (way.isEmpty()) {
            return Optional.empty();
        }
        List<Step> needed = needed(facts, way.get());
        List<String> backups = needed.stream().map(Step::backup).toList();
        double all = needed.stream().mapToDouble(s -> s.bytes().orElse(0)).sum();
        return fleet.stores().stream()
                .filter(s -> survives(s, facts, hazard, losses))
                .map(s -> cure(s, facts, fleet, moment, backups, all))
                .min(Comparator.comparingDouble(Cure::bytes)
                        .thenComparing(c -> role(fleet, c))
                        .thenComparing(c -> c.store().orElse("")))
                .or(() -> Optional.of(new Cure("none", Optional.empty(), backups, all)));
    }

    /** The chain alone brings back the state at its end, which counts from when the database came into service. */
    private static List<Step> needed(DatabaseFacts facts, Way way) {
        History history = facts.history();
        long tipMs = history.row(way.tip()).stream()
                .mapToLong(history::consistentAtMs)
                .findFirst()
                .orElseThrow();
        boolean counts = tipMs >= facts.database().inServiceFrom().toEpochMilli();
        return Stream.concat(way.chain().stream(), counts ? Stream.empty() : way.logs().stream())
                .toList();
    }

    private static int role(Fleet fleet, Cure cure) {
        return -cure.store()
                .flatMap(fleet::store)
                .flatMap(BackupStore::role)
                .map(Enum::ordinal)
                .orElse(-1);
    }

    private static boolean survives(BackupStore store, DatabaseFacts facts, Hazard hazard, Losses losses) {
        boolean lost = losses.stores().contains(store.id())
                || store.site().filter(losses.sites()::contains).isPresent();
        Optional<String> home = facts.database().site();
        boolean away =
                store.site().isPresent() && home.isPresent() && !store.site().equals(home);
        return !lost && (hazard != Hazard.SABOTAGE || store.lockable()) && (hazard != Hazard.SITE_LOSS || away);
    }

    private static Cure cure(
            BackupStore store, DatabaseFacts facts, Fleet fleet, Instant moment, List<String> backups, double all) {
        Set<String> others = new HashSet<>();
        fleet.stores().stream()
                .map(BackupStore::id)
                .filter(id -> !id.equals(store.id()))
                .forEach(others::add);
        boolean there = new Planning(facts, fleet, moment, Hazard.MISHAP, new Losses(others, Set.of()))
                .newestWay()
                .isPresent();
        return there
                ? new Cure("lock", Optional.of(store.id()), backups, 0)
                : new Cure("copy", Optional.of(store.id()), backups, all);
    }
}
