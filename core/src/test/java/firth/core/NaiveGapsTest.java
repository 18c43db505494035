package firth.core;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.cover.Gap;
import firth.core.model.Backup;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Positions;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A second opinion on gaps: position by position, by the rule's words. */
class NaiveGapsTest {

    static LongStream seeds() {
        return Seeds.upTo(200);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void agreesPositionByPosition(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        for (int n = 0; n < 3; n++) {
            Instant now = world.anyMoment();
            List<String> found = world.evaluate(world.backups, now).gaps().stream()
                    .map(NaiveGapsTest::told)
                    .sorted()
                    .toList();
            assertEquals(new Naive(world, now).gaps(), found, "as of " + now);
        }
    }

    private static String told(Gap g) {
        return told(g.lineage(), g.stream(), g.from(), g.to(), g.after(), g.before(), g.bridgedBy());
    }

    private static String told(
            String lineage,
            String stream,
            long from,
            long to,
            Optional<Instant> after,
            Optional<Instant> before,
            Optional<String> bridgedBy) {
        return lineage + " " + stream + " " + from + "-" + to + " after " + after + " before " + before + " by "
                + bridgedBy;
    }

    private static final class Naive {
        private final RandomFleet world;
        private final Instant now;
        private final NaiveCover cover;
        private final List<String> out = new ArrayList<>();

        Naive(RandomFleet world, Instant now) {
            this.world = world;
            this.now = now;
            this.cover = new NaiveCover(world, now, Hazard.MISHAP);
        }

        List<String> gaps() {
            for (Lineage lineage : world.database.lineages()) {
                for (String stream : world.database.streams()) {
                    if (cover.known(lineage)) {
                        gaps(lineage, stream);
                    }
                }
            }
            return out.stream().sorted().toList();
        }

        private void gaps(Lineage lineage, String stream) {
            List<Backup> there = world.backups.stream()
                    .filter(b -> b.kind() == Kind.LOG && b.positions().containsKey(stream))
                    .filter(b -> cover.available(b, now, true))
                    .toList();
            List<Backup> logs = there.stream()
                    .filter(b -> cover.lineageId(b).equals(lineage.id()))
                    .toList();
            List<Positions> all =
                    new ArrayList<>(logs.stream().map(b -> positions(b, stream)).toList());
            there.stream()
                    .flatMap(b -> Optional.ofNullable(cover.upwards(b).get(lineage.id())).stream())
                    .forEach(all::add);
            if (all.isEmpty()) {
                return;
            }
            BitSet held = new BitSet();
            all.forEach(p -> held.set((int) p.from(), (int) p.to()));
            long p1 = all.stream().mapToLong(Positions::to).max().orElseThrow();
            long p0 = begin(lineage, stream, all);
            int at = held.nextClearBit((int) p0);
            while (at < p1) {
                int next = held.nextSetBit(at);
                long end = next < 0 ? p1 : Math.min(next, p1);
                out.add(told(
                        lineage.id(),
                        stream,
                        at,
                        end,
                        after(lineage, stream, logs, at, end),
                        before(logs, stream, end),
                        bridge(lineage, stream, end)));
                at = held.nextClearBit((int) end);
            }
        }

        private static Positions positions(Backup b, String stream) {
            return b.positions().get(stream);
        }

        private boolean leads(Backup b, Lineage into) {
            return cover.restoredBy(b).stream().anyMatch(p -> p.lineage().equals(into.id()))
                    && !cover.lineageId(b).equals(into.id());
        }

        private long begin(Lineage lineage, String stream, List<Positions> logs) {
            boolean child = lineage.parent().isPresent();
            if (child && world.backups.stream().anyMatch(b -> leads(b, lineage))) {
                return lineage.forkPos().get(stream);
            }
            Optional<Long> least = world.backups.stream()
                    .filter(b -> cover.usableNow(b) && cover.lineageId(b).equals(lineage.id()))
                    .filter(b -> b.positions().containsKey(stream))
                    .map(b -> b.selfContained()
                            ? positions(b, stream).to()
                            : positions(b, stream).from())
                    .min(Comparator.naturalOrder());
            if (least.isPresent()) {
                return child ? Math.max(least.get(), lineage.forkPos().get(stream)) : least.get();
            }
            return child
                    ? lineage.forkPos().get(stream)
                    : logs.stream().mapToLong(Positions::from).min().orElseThrow();
        }

        private Optional<Instant> after(Lineage lineage, String stream, List<Backup> logs, long from, long to) {
            Optional<Instant> log = logs.stream()
                    .filter(b -> positions(b, stream).to() <= from)
                    .map(b -> b.times().orElseThrow().to())
                    .max(Comparator.naturalOrder());
            return log.or(() -> world.backups.stream()
                    .filter(b -> cover.usableNow(b) && cover.lineageId(b).equals(lineage.id()))
                    .filter(b -> b.positions().containsKey(stream)
                            && positions(b, stream).to() <= to)
                    .map(Backup::consistentAt)
                    .max(Comparator.naturalOrder()));
        }

        private Optional<Instant> before(List<Backup> logs, String stream, long to) {
            return logs.stream()
                    .filter(b -> positions(b, stream).from() >= to)
                    .map(b -> b.times().orElseThrow().from())
                    .min(Comparator.naturalOrder());
        }

        private Optional<String> bridge(Lineage lineage, String stream, long end) {
            return world.backups.stream()
                    .filter(b -> b.kind().isData() && descends(cover.lineageId(b), lineage.id()))
                    .filter(b -> b.positions().containsKey(stream)
                            && positions(b, stream).to() >= end)
                    .filter(b -> !cover.restoredBy(b).isEmpty())
                    .min(Comparator.comparing(Backup::consistentAt).thenComparing(Backup::id))
                    .map(Backup::id);
        }

        private boolean descends(String lineage, String from) {
            return lineage.equals(from)
                    || world.database.lineages().stream()
                            .filter(l -> l.id().equals(lineage))
                            .findFirst()
                            .flatMap(Lineage::parent)
                            .filter(p -> descends(p, from))
                            .isPresent();
        }
    }
}
