package firth.core.restore;

import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.Drill;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.TreeSet;

/**
 * The moment a drill is to reach (docs/semantics.md, "Drills"): any that can be restored within reach, rather one between two
 * data backups of which no drill ever proved anything.
 */
public final class DrillChoice {

    /** How much rarer a stretch is chosen that was proved before. */
    private static final double PROVED = 10;

    /** What a moment on its own counts for beside stretches, in seconds. */
    private static final double ALONE = 600;

    private DrillChoice() {}

    /** A stretch that one data backup is the newest to begin. */
    private record Stretch(long fromMs, long toMs, double weight) {}

    /**
     * Chooses by chance, the same for the same seed and facts.
     *
     * @param drills those of the database there were
     * @return to the second where the stretch is that long; empty where nothing can be restored
     */
    public static Optional<Instant> moment(Evaluation e, Collection<Drill> drills, long seed) {
        List<Stretch> stretches = stretches(e, drills);
        double all = stretches.stream().mapToDouble(Stretch::weight).sum();
        SplittableRandom random = new SplittableRandom(seed);
        double at = random.nextDouble() * all;
        for (int i = 0; i < stretches.size(); i++) {
            Stretch s = stretches.get(i);
            at -= s.weight();
            if (at < 0 || i == stretches.size() - 1) {
                long moment = s.fromMs() + (s.toMs() > s.fromMs() ? random.nextLong(s.toMs() - s.fromMs() + 1) : 0);
                long second = Math.floorDiv(moment, 1000) * 1000;
                return Optional.of(Instant.ofEpochMilli(second < s.fromMs() ? moment : second));
            }
        }
        return Optional.empty();
    }

    private static List<Stretch> stretches(Evaluation e, Collection<Drill> drills) {
        History h = e.history();
        TreeSet<Long> begins = new TreeSet<>();
        for (int i : h.others()) {
            if (h.kind(i).isData()) {
                begins.add(h.consistentAtMs(i));
            }
        }
        List<Long> proved = drills.stream()
                .filter(Drill::proves)
                .flatMap(d -> d.reached().or(d::moment).stream())
                .map(Instant::toEpochMilli)
                .toList();
        long since = e.reach().since().map(Instant::toEpochMilli).orElse(Long.MIN_VALUE);
        List<Stretch> out = new ArrayList<>();
        for (Piece p : e.mishap().restorable()) {
            long from = Math.max(since, p.from().toEpochMilli());
            long end = p.to().toEpochMilli();
            while (from <= end) {
                Long next = begins.higher(from);
                long to = next == null || next > end ? end : next - 1;
                out.add(stretch(from, to, proved));
                if (to == end) {
                    break;
                }
                from = to + 1;
            }
        }
        return out;
    }

    private static Stretch stretch(long from, long to, List<Long> proved) {
        double weight = to == from ? ALONE : (to - from) / 1000.0;
        boolean known = proved.stream().anyMatch(p -> from <= p && p <= to);
        return new Stretch(from, to, known ? weight / PROVED : weight);
    }
}
