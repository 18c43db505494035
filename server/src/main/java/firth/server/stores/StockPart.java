package firth.server.stores;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.history.Room;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.purge.GivingWay;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.server.drills.ObservedReadRates;
import firth.server.evaluation.Answered;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.RetainedBytes;
import firth.server.evaluation.SummaryPart;
import firth.wording.FindingWords;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What of a database lies in which store, and how fast it came there. */
@Singleton
public class StockPart implements SummaryPart<StockPart.Stock> {

    private static final int DAYS = StoreRooms.DAYS;

    private final FindingsNow findings;

    StockPart(FindingsNow findings) {
        this.findings = findings;
    }

    /**
     * What lies in one store. Bytes; copies of unknown size take none.
     *
     * @param kinds by kind of backup
     * @param givesWay of what a store that gives way to new backups deletes by itself
     */
    public record LyingBytes(double held, double needed, Map<String, Double> kinds, double givesWay) {}

    /** Bytes a second at which backups came to a store, and at which drills read from it. */
    record Came(List<Double> written, List<Double> copied, List<Double> read) {}

    /**
     * One database.
     *
     * @param lying by store
     * @param back by store, bytes held on each of the days before
     * @param came by store
     * @param copiesAsked whether a rule asks for copies
     * @param copiesLacking what is said where that rule is not kept
     */
    public record Stock(
            Map<String, LyingBytes> lying,
            Map<String, double[]> back,
            Map<String, Came> came,
            boolean copiesAsked,
            Optional<String> copiesLacking) {}

    @Override
    public Stock of(Answered one) {
        Evaluation e = one.answer();
        return new Stock(
                lying(one),
                back(e),
                came(one),
                e.version()
                        .filter(PolicyVersion::enabled)
                        .filter(v -> !v.copies().equals(CopiesRule.NONE))
                        .isPresent(),
                findings.of(one.alone(), e).stream()
                        .filter(f -> f.code().equals("copies-lacking"))
                        .map(f -> FindingWords.of(f).title())
                        .findFirst());
    }

    private static Map<String, LyingBytes> lying(Answered one) {
        Evaluation e = one.answer();
        Map<String, LyingBytes> out = new TreeMap<>();
        for (int k = 0; k < e.retention().size(); k++) {
            String store = e.retention().store(k);
            double bytes = RetainedBytes.known(e.retention().bytes(k));
            LyingBytes before = out.getOrDefault(store, new LyingBytes(0, 0, new TreeMap<>(), 0));
            before.kinds.merge(e.history().kind(e.retention().backup(k)).word(), bytes, Double::sum);
            out.put(
                    store,
                    new LyingBytes(
                            before.held + bytes,
                            before.needed + (e.retention().verdict(k) == Verdict.NEEDED ? bytes : 0),
                            before.kinds,
                            0));
        }
        out.replaceAll((store, l) -> one.fleet()
                .store(store)
                .map(s -> new LyingBytes(l.held, l.needed, l.kinds, givesWay(e, s)))
                .orElse(l));
        return out;
    }

    private static double givesWay(Evaluation e, BackupStore store) {
        return GivingWay.of(e, store).stream()
                .mapToDouble(k -> RetainedBytes.known(e.retention().bytes(k)))
                .sum();
    }

    private static Map<String, double[]> back(Evaluation e) {
        return back(e.history(), e.asOf(), DAYS);
    }

    /** By store, bytes held on each of the days before a moment and then. */
    static Map<String, double[]> back(History history, Instant asOf, int days) {
        Room room = new Room(history, new Span(asOf.minus(Duration.ofDays(days)), asOf), days, asOf);
        Map<String, double[]> out = new TreeMap<>();
        for (int s = 0; s < room.stores().size(); s++) {
            out.put(
                    room.stores().get(s),
                    room.bytes(s).stream().mapToDouble(Double::doubleValue).toArray());
        }
        return out;
    }

    /** Fulls of the last weeks that landed as they ended, those that were copied after, and what drills read. */
    private static Map<String, Came> came(Answered one) {
        Evaluation e = one.answer();
        History h = e.history();
        Map<String, Came> out = new TreeMap<>();
        long since = e.asOf().minus(Duration.ofDays(DAYS)).toEpochMilli();
        for (int i : h.others()) {
            if (h.kind(i) != Kind.FULL || h.endedMs(i) < since) {
                continue;
            }
            for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
                boolean atOnce = h.landedMs(c) <= h.endedMs(i);
                long took = atOnce ? h.endedMs(i) - h.startedMs(i) : h.landedMs(c) - h.endedMs(i);
                if (h.landedMs(c) <= e.asOf().toEpochMilli() && !Double.isNaN(h.bytes(c)) && took > 0) {
                    Came came = of(out, h.store(c));
                    (atOnce ? came.written : came.copied).add(h.bytes(c) * 1000 / took);
                }
            }
        }
        if (!one.now().drills(one.id()).isEmpty()) {
            one.fleet()
                    .stores()
                    .forEach(s -> ObservedReadRates.of(one.alone(), s.id())
                            .forEach(r -> of(out, s.id()).read.add(r)));
        }
        return out;
    }

    private static Came of(Map<String, Came> came, String store) {
        return came.computeIfAbsent(store, s -> new Came(new ArrayList<>(), new ArrayList<>(), new ArrayList<>()));
    }
}
