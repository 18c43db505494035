package firth.core;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.model.Backup;
import firth.core.model.BackupStore;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Positions;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.time.RunningTime;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A second opinion on what the rules of a role need: by the rules' words, backup by backup. */
class NaiveRetentionTest {

    private static final Set<String> COMPARED = Set.of(
            "reach-anchor",
            "inside-reach",
            "log-for-reach",
            "newest-fulls",
            "log-for-fulls",
            "newest-configs",
            "locked",
            "no-rule");

    static LongStream seeds() {
        return Seeds.upTo(250);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void agreesOnWhatEachRuleNeeds(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 3 > 0);
        for (int n = 0; n < 2; n++) {
            Instant now = world.anyMoment();
            Evaluation e = world.evaluate(world.backups, now);
            Map<String, Set<String>> found = new TreeMap<>();
            for (int r = 0; r < e.retention().size(); r++) {
                Set<String> reasons = new TreeSet<>(e.retention().reasons(r));
                reasons.retainAll(COMPARED);
                found.put(
                        e.history().id(e.retention().backup(r)) + " "
                                + e.retention().store(r),
                        reasons);
            }
            assertEquals(new Naive(world, now).reasons(), found, "as of " + now);
        }
    }

    private static final class Naive {
        private final RandomFleet world;
        private final Instant now;
        private final NaiveCover cover;
        private final Map<String, Set<String>> out = new TreeMap<>();
        private final Comparator<Backup> byAge =
                Comparator.comparing(Backup::consistentAt).thenComparing(Backup::id);

        Naive(RandomFleet world, Instant now) {
            this.world = world;
            this.now = now;
            this.cover = new NaiveCover(world, now, Hazard.MISHAP);
        }

        Map<String, Set<String>> reasons() {
            world.backups.forEach(b -> b.copies().stream()
                    .filter(c -> cover.thereNow(b, c))
                    .forEach(c -> out.put(key(b, c), new TreeSet<>())));
            for (Role role : Role.values()) {
                List<RetainRule> rules = world.fleet.versions("p").get(0).retain().stream()
                        .filter(r -> r.role() == role)
                        .toList();
                rules.forEach(rule -> apply(role, rule));
                boolean data = rules.stream().anyMatch(RetainRule::retainsData);
                boolean config =
                        data || rules.stream().anyMatch(r -> r.configs().isPresent());
                need(role, b -> !(b.kind() == Kind.CONFIG ? config : data), "no-rule");
            }
            world.backups.forEach(b -> b.copies().stream()
                    .filter(c -> cover.thereNow(b, c)
                            && c.lockedUntil().filter(now::isBefore).isPresent())
                    .forEach(c -> out.get(key(b, c)).add("locked")));
            return out;
        }

        private static String key(Backup b, Copy c) {
            return b.id() + " " + c.store();
        }

        private boolean isIn(Role role, Copy c) {
            return world.fleet
                    .store(c.store())
                    .flatMap(BackupStore::role)
                    .filter(role::equals)
                    .isPresent();
        }

        private boolean liesIn(Role role, Backup b) {
            return b.copies().stream().anyMatch(c -> isIn(role, c) && cover.thereNow(b, c));
        }

        private void need(Role role, Predicate<Backup> which, String reason) {
            world.backups.stream()
                    .filter(which)
                    .forEach(b -> b.copies().stream()
                            .filter(c -> isIn(role, c) && cover.thereNow(b, c))
                            .forEach(c -> out.get(key(b, c)).add(reason)));
        }

        private void apply(Role role, RetainRule rule) {
            List<Backup> candidates = world.backups.stream()
                    .filter(b -> b.kind().isData()
                            && liesIn(role, b)
                            && !cover.restoredBy(b).isEmpty())
                    .sorted(byAge)
                    .toList();
            rule.reach().ifPresent(reach -> reach(role, candidates, reach));
            rule.fulls().ifPresent(count -> fulls(role, rule, candidates, count));
            List<Backup> configs = world.backups.stream()
                    .filter(b -> b.kind() == Kind.CONFIG && liesIn(role, b))
                    .sorted(Comparator.comparing(Backup::started)
                            .thenComparing(Backup::id)
                            .reversed())
                    .limit(rule.configs().orElse(3))
                    .toList();
            need(role, configs::contains, "newest-configs");
        }

        private Instant reachBegins(Duration reach) {
            Spans stopped = Spans.NONE;
            for (Database.Stop stop : world.database.stopped()) {
                stopped = Spans.of(
                        stop.from().toEpochMilli(), stop.to().orElseThrow().toEpochMilli());
            }
            return Instant.ofEpochMilli(new RunningTime(stopped).before(now.toEpochMilli(), reach.toMillis()));
        }

        private void reach(Role role, List<Backup> candidates, Duration reach) {
            Instant w = reachBegins(reach);
            List<Backup> anchors = new ArrayList<>();
            for (Lineage l : world.database.lineages()) {
                if (cover.known(l)
                        && (cover.inForceUntil(l).isAfter(w)
                                || cover.openedAt(l).isAfter(w))) {
                    Instant by = cover.openedAt(l).isAfter(w) ? cover.openedAt(l) : w;
                    List<Backup> leading =
                            candidates.stream().filter(b -> cover.leads(b, l)).toList();
                    Optional<Backup> anchor = choose(leading, by);
                    anchor.ifPresent(anchors::add);
                    if (anchor.filter(a -> !everywhere(a)).isPresent()) {
                        choose(leading.stream().filter(this::everywhere).toList(), by)
                                .ifPresent(anchors::add);
                    }
                }
            }
            if (anchors.isEmpty() && !candidates.isEmpty()) {
                anchors.add(candidates.get(0));
            }
            need(role, anchors::contains, "reach-anchor");
            need(role, b -> candidates.contains(b) && b.consistentAt().isAfter(w), "inside-reach");
            need(role, b -> b.kind() == Kind.CONFIG && b.started().isAfter(w), "inside-reach");
            need(role, b -> anchors.stream().anyMatch(a -> keepsLog(a, b)), "log-for-reach");
        }

        private boolean everywhere(Backup b) {
            return b.positions().keySet().containsAll(world.database.streams());
        }

        private static Optional<Backup> choose(List<Backup> ascending, Instant by) {
            Optional<Backup> newest = ascending.stream()
                    .filter(b -> !b.consistentAt().isAfter(by))
                    .reduce((a, b) -> b);
            return newest.or(() -> ascending.stream().findFirst());
        }

        private boolean keepsLog(Backup from, Backup log) {
            if (log.kind() != Kind.LOG) {
                return false;
            }
            Map.Entry<String, Positions> own =
                    log.positions().entrySet().iterator().next();
            Positions p = from.positions().get(own.getKey());
            if (p == null) {
                return false;
            }
            if (cover.lineageId(log).equals(cover.lineageId(from))) {
                long start = from.selfContained() ? p.to() : p.from();
                boolean empty = own.getValue().from() == own.getValue().to();
                return own.getValue().to() > start || empty && own.getValue().to() == start;
            }
            return world.database.lineages().stream()
                    .filter(l -> l.id().equals(cover.lineageId(log)))
                    .anyMatch(l -> cover.openedAt(l).isAfter(from.consistentAt()));
        }

        private void fulls(Role role, RetainRule rule, List<Backup> candidates, int count) {
            List<Backup> fulls =
                    candidates.stream().filter(b -> b.kind() == Kind.FULL).toList();
            List<Backup> newest = fulls.subList(Math.max(0, fulls.size() - count), fulls.size());
            need(role, b -> candidates.contains(b) && newest.contains(fullOf(b)), "newest-fulls");
            if (rule.logs()) {
                newest.stream()
                        .filter(b -> !b.positions().isEmpty())
                        .findFirst()
                        .ifPresent(oldest -> need(role, b -> keepsLog(oldest, b), "log-for-fulls"));
            }
        }

        private Backup fullOf(Backup b) {
            return b.kind() == Kind.FULL
                    ? b
                    : fullOf(world.backups.stream()
                            .filter(x -> x.id().equals(b.parent().orElseThrow()))
                            .findFirst()
                            .orElseThrow());
        }
    }
}
