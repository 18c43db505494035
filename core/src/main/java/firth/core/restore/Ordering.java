package firth.core.restore;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;

/**
 * Looks for a good order: begins with orders known to be good for one end or another, then moves single restores about, for each number of
 * them side by side; and holds single ones back where that helps.
 */
final class Ordering {

    /** How many parts may be run in all; looking for better ends there. */
    private static final long MOST_PARTS = 120_000;

    private final Map<String, Double> rates;
    private final int most;
    private SideBySide sideBySide;
    private long budget = MOST_PARTS;
    private long parts;

    Ordering(Map<String, Double> rates, int most) {
        this.rates = rates;
        this.most = most;
        this.sideBySide = new SideBySide(rates, most);
    }

    RestoreSchedule.Compared compared(List<Restoring> all) {
        List<RestoreSchedule> upTo = new ArrayList<>();
        int useful = Math.max(1, Math.min(most, all.size()));
        for (int n = useful; n >= 1; n--) {
            sideBySide = new SideBySide(rates, n);
            // The number that was asked for is looked at the longest.
            budget = n == useful ? MOST_PARTS : MOST_PARTS / useful;
            parts = 0;
            upTo.add(0, best(all));
        }
        for (int n = 1; n < upTo.size(); n++) {
            // What does with fewer at a time does with more.
            upTo.set(n, better(upTo.get(n), upTo.get(n - 1)));
        }
        RestoreSchedule best = upTo.get(upTo.size() - 1);
        sideBySide = new SideBySide(rates, useful);
        parts = 0;
        budget = MOST_PARTS;
        for (RestoreSchedule one : List.copyOf(upTo)) {
            best = better(best, heldBack(one, useful));
        }
        return new RestoreSchedule.Compared(best.marked(useful), List.copyOf(upTo));
    }

    /** Lets single restores begin only when fewer run, for as long as that betters it. */
    private RestoreSchedule heldBack(RestoreSchedule begun, int useful) {
        List<SideBySide.Placed> order = new ArrayList<>();
        order(begun).forEach(r -> order.add(new SideBySide.Placed(r, useful)));
        RestoreSchedule best = runPlaced(order);
        boolean better = true;
        while (better && parts < budget) {
            better = false;
            for (int at = 1; at < order.size() && parts < budget; at++) {
                for (int n = 1; n <= useful && parts < budget; n++) {
                    SideBySide.Placed before = order.get(at);
                    order.set(at, new SideBySide.Placed(before.what(), n));
                    RestoreSchedule found = n == before.most() ? best : runPlaced(order);
                    if (found.isBetterThan(best)) {
                        best = found;
                        better = true;
                    } else {
                        order.set(at, before);
                    }
                }
            }
        }
        return best;
    }

    private RestoreSchedule runPlaced(List<SideBySide.Placed> order) {
        order.forEach(p -> parts += p.what().parts().size() + 1);
        return sideBySide.runPlaced(order);
    }

    private RestoreSchedule best(List<Restoring> all) {
        Comparator<Restoring> byId = Comparator.comparing(Restoring::database);
        Comparator<Restoring> byLength = Comparator.comparingDouble(this::alone);
        Comparator<Restoring> byPromise = Comparator.comparingDouble(
                r -> r.promised().map(p -> (double) p.toMillis()).orElse(Double.MAX_VALUE));
        Comparator<Restoring> bySlack = Comparator.comparingDouble(
                r -> r.promised().map(p -> p.toMillis() - alone(r) * 1000).orElse(Double.MAX_VALUE));
        List<Comparator<Restoring>> beginnings = List.of(
                byPromise.thenComparing(byLength.reversed()),
                byPromise.thenComparing(byLength),
                bySlack,
                byLength,
                byLength.reversed());
        RestoreSchedule best = run(all);
        for (Comparator<Restoring> first : beginnings) {
            best = better(
                    best, run(all.stream().sorted(first.thenComparing(byId)).toList()));
        }
        best = better(best, moved(best));
        for (Comparator<Restoring> first : beginnings) {
            if (parts < budget) {
                RestoreSchedule begun =
                        run(all.stream().sorted(first.thenComparing(byId)).toList());
                best = better(best, moved(better(begun, run(hopelessLast(begun)))));
            }
        }
        return best;
    }

    private static RestoreSchedule better(RestoreSchedule one, RestoreSchedule other) {
        return other.isBetterThan(one) ? other : one;
    }

    private static List<Restoring> order(RestoreSchedule schedule) {
        return schedule.entries().stream().map(RestoreSchedule.Entry::what).toList();
    }

    /** Those that miss their promise make room for those that may keep it. */
    private static List<Restoring> hopelessLast(RestoreSchedule schedule) {
        return schedule.entries().stream()
                .sorted(Comparator.comparing(e -> !e.inTime()))
                .map(RestoreSchedule.Entry::what)
                .toList();
    }

    /** Moves and swaps single restores for as long as that betters it. */
    private RestoreSchedule moved(RestoreSchedule begun) {
        List<Restoring> order = order(begun);
        RestoreSchedule best = begun;
        boolean better = true;
        while (better && parts < budget) {
            better = false;
            for (int from = 0; from < order.size() && parts < budget; from++) {
                for (int to = 0; to < order.size() && parts < budget; to++) {
                    for (boolean swap : new boolean[] {false, true}) {
                        if (from == to || swap && from > to) {
                            continue;
                        }
                        List<Restoring> other = new ArrayList<>(order);
                        if (swap) {
                            java.util.Collections.swap(other, from, to);
                        } else {
                            other.add(to, other.remove(from));
                        }
                        RestoreSchedule found = run(other);
                        if (found.isBetterThan(best)) {
                            best = found;
                            order = other;
                            better = true;
                        }
                    }
                }
            }
        }
        return best;
    }

    private RestoreSchedule run(List<Restoring> order) {
        order.forEach(r -> parts += r.parts().size() + 1);
        return sideBySide.run(order);
    }

    /** How many seconds it takes by itself. */
    private double alone(Restoring r) {
        return r.parts().stream()
                .mapToDouble(p -> p.bytes() / rates.getOrDefault(p.store(), Double.MIN_NORMAL)
                        + p.work().toMillis() / 1000.0)
                .sum();
    }
}
