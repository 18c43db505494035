package firth.core.restore;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Restores of several databases, some side by side, in an order that keeps as many promised restore times as it can and then ends
 * soon (docs/semantics.md, "Loss rehearsal").
 *
 * @param entries in the order they begin
 * @param total from the beginning of the first to the end of the last
 * @param kept how many promised restore times are kept
 */
public record RestoreSchedule(List<Entry> entries, Duration total, int kept) {

    /**
     * One restore in its place.
     *
     * @param begins after the beginning of the first
     * @param reads how fast it reads from which store when
     * @param heldBack whether it waited though there was room for it, so that others are not slowed down
     */
    public record Entry(Restoring what, Duration begins, Duration ends, List<Read> reads, boolean heldBack) {

        public Entry {
            reads = List.copyOf(reads);
        }

        /** Whether it ends within its promise; so it does where nothing was promised. */
        public boolean inTime() {
            return what.promised().filter(p -> ends.compareTo(p) > 0).isEmpty();
        }
    }

    /** A stretch of reading at one speed; moments in seconds after the beginning of all. */
    public record Read(String store, double from, double to, double bytesPerSecond) {}

    /**
     * The best schedule found.
     *
     * @param rates bytes a second each store gives, shared in equal parts by those that read from it
     * @param sideBySide how many restores may run at a time, at least 1; where fewer do better, fewer run
     */
    public static RestoreSchedule of(List<Restoring> all, Map<String, Double> rates, int sideBySide) {
        return compared(all, rates, sideBySide).best();
    }

    /**
     * What was found for each number of restores side by side.
     *
     * @param best the best of all, in which single restores may be held back besides
     * @param upTo the best for at most one at a time, at most two, and so on
     */
    public record Compared(RestoreSchedule best, List<RestoreSchedule> upTo) {}

    /** Compares one at a time, two, and so on up to so many. */
    public static Compared compared(List<Restoring> all, Map<String, Double> rates, int sideBySide) {
        return new Ordering(rates, sideBySide).compared(all);
    }

    /** Restores begun in a given order, each as soon as one before it has ended. */
    public static RestoreSchedule inOrder(List<Restoring> order, Map<String, Double> rates, int sideBySide) {
        return new SideBySide(rates, sideBySide).run(order);
    }

    /** The same, saying which restores waited though fewer than so many ran. */
    RestoreSchedule marked(int sideBySide) {
        List<Entry> out = new ArrayList<>();
        for (Entry e : entries) {
            long before =
                    out.stream().filter(o -> o.ends.compareTo(e.begins) >= 0).count();
            out.add(new Entry(e.what, e.begins, e.ends, e.reads, !e.begins.isZero() && before < sideBySide));
        }
        return new RestoreSchedule(List.copyOf(out), total, kept);
    }

    /** Whether it is better than another of the same restores: more promises kept, then sooner over. */
    boolean isBetterThan(RestoreSchedule other) {
        return kept > other.kept || kept == other.kept && total.compareTo(other.total) < 0;
    }
}
