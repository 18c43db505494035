package firth.core.forecast;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Piece;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.retention.Retention;
import firth.core.retention.RetentionRules;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Judges day by day what rules need of a history that reaches into the days to come (docs/forecast.md, "Forecast"). Every second
 * day is judged; on a day between, half of what goes is taken to be gone. It is purged then, so that what is looked through stays
 * small however far ahead one looks.
 */
final class Retaining {

    private static final int EVERY = 2;

    /** For how many days the history is cut out at once. */
    private static final int CUT = 10;

    private final DatabaseFacts facts;
    private final Fleet fleet;
    private final Optional<PolicyVersion> version;
    private final History whole;
    private final Instant now;
    private final int days;
    /** By store, and day. */
    private final double[][] room;

    private final double[][] obsolete;
    /** For each copy of the whole, when it was purged. */
    private final long[] gone;

    private int cutUntil;

    @SuppressWarnings("NullAway.Init")
    private DatabaseFacts part;
    /** For each copy of the part, which of the whole it is. */
    private int[] origin = new int[0];

    Retaining(DatabaseFacts facts, Fleet fleet, Optional<PolicyVersion> version, History whole, Instant now, int days) {
        this.facts = facts;
        this.fleet = fleet;
        this.version = version;
        this.whole = whole;
        this.now = now;
        this.days = days;
        this.room = new double[whole.storesByIndex().size()][];
        this.obsolete = new double[room.length][];
        this.gone = new long[whole.copies()];
        Arrays.fill(gone, History.NEVER);
    }

    /** Takes the facts as they will be known on a day. */
    interface Look {
        void at(DatabaseFacts facts, Instant moment, int day);
    }

    /**
     * Goes through the days from the first on.
     *
     * @param look is shown each day that is judged
     * @return by store, the bytes needed after each day; the first value is left at 0
     */
    Map<String, double[]> walk(Look look) {
        BitSet before = new BitSet();
        int last = 0;
        for (int day = 1; last < days; day = Math.min(days, day == 1 ? EVERY : day + EVERY)) {
            if (day > cutUntil) {
                purge(before, last);
                cut(day);
            }
            BitSet needed = judge(day);
            look.at(part, moment(day), day);
            for (int between = last + 1; between < day; between++) {
                fill(between, before, needed);
            }
            count(room, day, needed, 1);
            gone(last, day, before, needed);
            before = needed;
            last = day;
        }
        return byName(room);
    }

    /** What can be restored at a moment, in order. */
    private static List<Piece> restorable(DatabaseFacts facts, Fleet fleet, Instant at) {
        History history = facts.history();
        Availability availability = new Availability(facts.database(), fleet, history, at.toEpochMilli());
        return HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP)
                .restorable();
    }

    /** What can be restored at the end, of what is needed then. Asked after the walk. */
    List<Piece> restorableAtLast() {
        return restorable(left(judge(days)), fleet, moment(days));
    }

    private DatabaseFacts left(BitSet needed) {
        HistoryBuilder out = History.of(facts.database()).expect(part.history().size());
        for (int i = 0; i < part.history().size(); i++) {
            Compacted.row(out, facts.database(), part.history(), i);
            for (int c = part.history().firstCopy(i); c < part.history().firstCopy(i + 1); c++) {
                if (needed.get(origin[c])) {
                    copy(out, origin[c]);
                }
            }
        }
        return new DatabaseFacts(facts.database(), out.build(), facts.holds(), facts.closures());
    }

    private void copy(HistoryBuilder out, int c) {
        out.addCopy(
                whole.store(c),
                CopyRow.landed(whole.landedMs(c), whole.bytes(c))
                        .locked(whole.lockedUntilMs(c))
                        .gone(gone[c]));
    }

    private Instant moment(int day) {
        return now.plus(Duration.ofDays(day));
    }

    /** A day that lies between two that were judged: half of what goes meanwhile is taken to be there still. */
    private void fill(int day, BitSet before, BitSet after) {
        BitSet going = (BitSet) before.clone();
        going.andNot(after);
        count(room, day, going, 0.5);
        BitSet there = (BitSet) after.clone();
        long at = moment(day).toEpochMilli();
        after.stream().filter(c -> whole.landedMs(c) > at).forEach(there::clear);
        count(room, day, there, 1);
    }

    private double bytes(int copy) {
        double bytes = whole.bytes(copy);
        return Double.isNaN(bytes) ? 0 : bytes;
    }

    /** What was needed on the day judged before and is not any more has become obsolete. */
    private void gone(int last, int day, BitSet before, BitSet needed) {
        BitSet going = (BitSet) before.clone();
        going.andNot(needed);
        for (int between = last + 1; between <= day; between++) {
            count(obsolete, between, going, 1.0 / (day - last));
        }
    }

    /** By store, the bytes that become obsolete on each day. */
    Map<String, double[]> obsolete() {
        return byName(obsolete);
    }

    private Map<String, double[]> byName(double[][] byStore) {
        Map<String, double[]> out = new TreeMap<>();
        for (int s = 0; s < byStore.length; s++) {
            if (byStore[s] != null) {
                out.put(whole.storesByIndex().get(s), byStore[s]);
            }
        }
        return out;
    }

    private void count(double[][] into, int day, BitSet needed, double share) {
        for (int c = needed.nextSetBit(0); c >= 0; c = needed.nextSetBit(c + 1)) {
            int store = whole.storeIndex(c);
            if (into[store] == null) {
                into[store] = new double[days + 1];
            }
            into[store][day] += share * bytes(c);
        }
    }

    /** The copies of the whole that the rules need on a day. */
    private BitSet judge(int day) {
        History history = part.history();
        Availability availability =
                new Availability(facts.database(), fleet, history, moment(day).toEpochMilli());
        HazardCover cover = HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP);
        Retention kept = RetentionRules.judge(
                facts.database(), history, availability, cover, facts.database().clock(), version, facts.holds());
        BitSet needed = new BitSet();
        for (int k = 0; k < kept.size(); k++) {
            if (kept.verdict(k) == Verdict.NEEDED) {
                needed.set(origin[kept.copy(k)]);
            }
        }
        return needed;
    }

    /** Takes away whatever was there on a day and not needed. */
    private void purge(BitSet needed, int day) {
        long at = moment(day).toEpochMilli();
        for (int c = 0; c < gone.length && day > 0; c++) {
            if (gone[c] == History.NEVER && whole.landedMs(c) <= at && !needed.get(c)) {
                gone[c] = at;
            }
        }
    }

    /**
     * Cuts out what is left, with everything that begins in the days until the next cut. Logs all of whose copies were purged are
     * left out; of other backups a purged copy stays as one that is gone, since it still counts for the copies rule.
     */
    private void cut(int day) {
        cutUntil = day + CUT - 1;
        long until = moment(cutUntil).toEpochMilli();
        HistoryBuilder out = History.of(facts.database()).expect(whole.size());
        origin = new int[whole.copies()];
        int copies = 0;
        for (int i = 0; i < whole.size(); i++) {
            if (whole.startedMs(i) <= until && !(whole.kind(i) == Kind.LOG && isGone(i))) {
                Compacted.row(out, facts.database(), whole, i);
                for (int c = whole.firstCopy(i); c < whole.firstCopy(i + 1); c++) {
                    copy(out, c);
                    origin[copies++] = c;
                }
            }
        }
        part = new DatabaseFacts(facts.database(), out.build(), facts.holds(), facts.closures());
    }

    private boolean isGone(int i) {
        for (int c = whole.firstCopy(i); c < whole.firstCopy(i + 1); c++) {
            if (gone[c] == History.NEVER) {
                return false;
            }
        }
        return true;
    }
}
