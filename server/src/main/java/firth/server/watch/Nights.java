package firth.server.watch;

import firth.core.adherence.SlotVerdict;
import firth.core.forecast.Trend;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** How the night before a moment went: from noon to noon, or as far as it has come. */
final class Nights {

    /** So many nights before are compared with. */
    static final int WEEKS = 4;

    /** More databases are not named in a sentence. */
    private static final int NAMED = 12;

    private final List<MorningPart.Dawn> fleet;
    private final Instant asOf;
    private final ZoneId zone;

    Nights(List<MorningPart.Dawn> fleet, Instant asOf, ZoneId zone) {
        this.fleet = fleet;
        this.asOf = asOf;
        this.zone = zone;
    }

    Watch.Night last() {
        ZonedDateTime noon = noonBefore(asOf);
        Instant from = noon.toInstant();
        List<Watch.GradedDatabase> failed = new ArrayList<>();
        List<Watch.GradedDatabase> missed = new ArrayList<>();
        List<Watch.GradedDatabase> late = new ArrayList<>();
        int asked = 0;
        int kept = 0;
        for (MorningPart.Dawn one : fleet) {
            for (MorningPart.NightSlot s : one.slots()) {
                if (s.open().isBefore(from) || s.open().isAfter(asOf)) {
                    continue;
                }
                SlotVerdict v = s.verdict();
                boolean isKept = v == SlotVerdict.ON_TIME || v == SlotVerdict.OVERRAN || v == SlotVerdict.LATE;
                asked += isKept || v == SlotVerdict.FAILED || v == SlotVerdict.MISSED ? 1 : 0;
                kept += isKept ? 1 : 0;
                if (v == SlotVerdict.FAILED) {
                    failed.add(one.named());
                } else if (v == SlotVerdict.MISSED) {
                    missed.add(one.named());
                } else if (v == SlotVerdict.LATE || v == SlotVerdict.OVERRAN) {
                    late.add(one.named());
                }
            }
        }
        return new Watch.Night(
                from, asOf, asked, kept, names(failed), names(missed), names(late), written(from, asOf), usual(noon));
    }

    /** Each once, though several of its slots went so. */
    private static Watch.SomeDatabases names(List<Watch.GradedDatabase> all) {
        List<Watch.GradedDatabase> distinct = all.stream().distinct().toList();
        return new Watch.SomeDatabases(
                distinct.size(), distinct.stream().limit(NAMED).toList());
    }

    /** The noon at which the last night began: yesterday's before noon, and for as long after as the day is young. */
    private ZonedDateTime noonBefore(Instant at) {
        LocalDate today = at.atZone(zone).toLocalDate();
        return today.minusDays(1).atTime(12, 0).atZone(zone);
    }

    /** Bytes of data and config backups that ended in a stretch. */
    private double written(Instant from, Instant to) {
        double out = 0;
        for (MorningPart.Dawn one : fleet) {
            for (MorningPart.WrittenBackup w : one.written()) {
                if (w.endedMs() >= from.toEpochMilli() && w.endedMs() < to.toEpochMilli()) {
                    out += w.bytes();
                }
            }
        }
        return out;
    }

    private @Nullable Double usual(ZonedDateTime noon) {
        double[] weeks = new double[WEEKS];
        int n = 0;
        for (int w = 1; w <= WEEKS; w++) {
            ZonedDateTime from = noon.minusWeeks(w);
            ZonedDateTime to = asOf.atZone(zone).minusWeeks(w);
            double bytes = written(from.toInstant(), to.toInstant());
            if (bytes > 0) {
                weeks[n++] = bytes;
            }
        }
        return n < 2 ? null : Trend.median(Arrays.copyOf(weeks, n));
    }
}
