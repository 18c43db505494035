package firth.core.restore;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Lets restores run side by side, from event to event: somebody has read a part, or done the work on it. */
final class SideBySide {

    /** Below this many bytes or seconds nothing is left. */
    private static final double NOTHING = 1e-6;

    private final Map<String, Double> rates;
    private final int most;

    SideBySide(Map<String, Double> rates, int most) {
        if (most < 1) {
            throw new IllegalArgumentException("at least one restore runs at a time");
        }
        this.rates = rates;
        this.most = most;
    }

    private static final class Running {
        private final Restoring what;
        private final double begins;
        private final List<RestoreSchedule.Read> reads = new ArrayList<>();
        private int part = -1;
        private double bytesLeft;
        private double workLeft;

        Running(Restoring what, double begins) {
            this.what = what;
            this.begins = begins;
            next();
        }

        void next() {
            part++;
            if (!isDone()) {
                bytesLeft = what.parts().get(part).bytes();
                workLeft = what.parts().get(part).work().toMillis() / 1000.0;
            }
        }

        boolean isDone() {
            return part == what.parts().size();
        }

        boolean isReading() {
            return bytesLeft > NOTHING;
        }

        String store() {
            return what.parts().get(part).store();
        }

        /** Reads or works for a while. */
        void pass(double from, double seconds, double rate) {
            if (isReading()) {
                bytesLeft -= seconds * rate;
                read(from, seconds, rate);
            } else {
                workLeft -= seconds;
            }
            while (!isDone() && !isReading() && workLeft <= NOTHING) {
                next();
            }
        }

        private void read(double from, double seconds, double rate) {
            int last = reads.size() - 1;
            RestoreSchedule.Read before = last < 0 ? null : reads.get(last);
            if (before != null
                    && before.store().equals(store())
                    && before.bytesPerSecond() == rate
                    && before.to() == from) {
                reads.set(last, new RestoreSchedule.Read(store(), before.from(), from + seconds, rate));
            } else {
                reads.add(new RestoreSchedule.Read(store(), from, from + seconds, rate));
            }
        }
    }

    /**
     * A restore in an order.
     *
     * @param most it begins when fewer than so many run; those after it wait with it
     */
    record Placed(Restoring what, int most) {}

    /** Each as soon as there is room for it. */
    RestoreSchedule run(List<Restoring> order) {
        return runPlaced(order.stream().map(r -> new Placed(r, most)).toList());
    }

    RestoreSchedule runPlaced(List<Placed> order) {
        List<Running> running = new ArrayList<>();
        List<RestoreSchedule.Entry> out = new ArrayList<>();
        Map<String, Integer> readers = new HashMap<>();
        int waiting = 0;
        double now = 0;
        while (waiting < order.size() || !running.isEmpty()) {
            while (waiting < order.size() && running.size() < Math.min(most, order.get(waiting).most)) {
                Running next = new Running(order.get(waiting).what, now);
                next.pass(now, 0, 0);
                running.add(next);
                waiting++;
            }
            readers.clear();
            running.stream()
                    .filter(r -> !r.isDone() && r.isReading())
                    .forEach(r -> readers.merge(r.store(), 1, Integer::sum));
            double step = Double.MAX_VALUE;
            for (Running r : running) {
                step = Math.min(step, r.isDone() ? 0 : r.isReading() ? r.bytesLeft / rate(r, readers) : r.workLeft);
            }
            for (Iterator<Running> all = running.iterator(); all.hasNext(); ) {
                Running r = all.next();
                if (!r.isDone()) {
                    r.pass(now, step, r.isReading() ? rate(r, readers) : 0);
                }
                if (r.isDone()) {
                    all.remove();
                    out.add(new RestoreSchedule.Entry(r.what, seconds(r.begins), seconds(now + step), r.reads, false));
                }
            }
            now += step;
        }
        out.sort(java.util.Comparator.comparing(RestoreSchedule.Entry::begins)
                .thenComparing(e -> e.what().database()));
        return new RestoreSchedule(List.copyOf(out), seconds(now), (int) out.stream()
                .filter(e -> e.what().promised().isPresent() && e.inTime())
                .count());
    }

    private double rate(Running r, Map<String, Integer> readers) {
        Double all = rates.get(r.store());
        if (all == null || !(all > 0)) {
            throw new IllegalArgumentException("the read rate of " + r.store() + " is not known");
        }
        return all / Objects.requireNonNull(readers.get(r.store()));
    }

    private static Duration seconds(double seconds) {
        return Duration.ofMillis(Math.round(seconds * 1000));
    }
}
