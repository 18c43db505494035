package firth.server.restore;

import firth.core.cover.Availability;
import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.exchange.Told;
import firth.server.evaluation.FleetNow;
import firth.store.Snapshot;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Ways back as they are shown: logs of one store and stream together, each part in its time. */
public final class WayRows {

    private static final int LOOKED_UP = 500;

    private final FleetNow fleet;
    private final Evaluation e;
    private final Snapshot snapshot;
    private final Availability availability;

    public WayRows(FleetNow fleet, Evaluation e, Snapshot snapshot) {
        this.fleet = fleet;
        this.e = e;
        this.snapshot = snapshot;
        this.availability = new Availability(
                e.database(), fleet.fleet(), e.history(), e.asOf().toEpochMilli());
    }

    public RestoreView.PlanWay row(Way way, Way best) {
        return new RestoreView.PlanWay(
                way.tip(),
                way.lineage(),
                title(way),
                way == best ? "" : why(way, best),
                steps(way),
                way.logCount(),
                Plans.seconds(way.time()),
                way.timeKnown());
    }

    private String title(Way way) {
        List<String> parts = new ArrayList<>();
        List<Step> chain = way.chain();
        for (int k = 0; k < chain.size(); ) {
            int end = k;
            while (end < chain.size() && chain.get(end).kind() == chain.get(k).kind()) {
                end++;
            }
            String name = Wording.kindName(chain.get(k).kind());
            String last =
                    Wording.shortMoment(at(chain.get(end - 1)), e.database().zone());
            parts.add(end - k == 1 ? name + " of " + last : (end - k) + " " + name + "s to " + last);
            k = end;
        }
        if (way.logCount() > 0) {
            parts.add(way.logCount() == 1 ? "one log" : way.logCount() + " logs");
        }
        return String.join(", ", parts) + ", from " + stores(way);
    }

    private String stores(Way way) {
        return way.steps().stream()
                .map(Step::store)
                .distinct()
                .map(fleet::storeName)
                .collect(Collectors.joining(" and "));
    }

    /** Why a way is not the best one. */
    private static String why(Way way, Way best) {
        if (!way.timeKnown()) {
            return "how long it takes is not known: a size or a rate was not told";
        }
        Duration longer = way.time().minus(best.time());
        if (longer.isZero()) {
            return "as long, from an older data backup";
        }
        int logs = way.logCount() - best.logCount();
        String more = logs > 0 ? ", with " + logs + " more logs to apply" : "";
        return Wording.measured(longer) + " longer" + more;
    }

    private Instant at(Step step) {
        History h = e.history();
        int i = h.row(step.backup()).orElseThrow();
        return Instant.ofEpochMilli(step.kind() == Kind.LOG ? h.toTimeMs(i) : h.consistentAtMs(i));
    }

    private List<RestoreView.PlanStep> steps(Way way) {
        List<RestoreView.PlanStep> out = new ArrayList<>();
        Duration starts = Duration.ZERO;
        for (List<Step> part : parts(way.steps())) {
            out.add(step(part, starts));
            starts = starts.plus(time(part).orElse(Duration.ZERO));
        }
        return out;
    }

    /** Logs of one store and stream that follow each other are one part; so is any other backup. */
    private static List<List<Step>> parts(List<Step> steps) {
        List<List<Step>> out = new ArrayList<>();
        Step before = null;
        for (Step s : steps) {
            boolean joins = before != null
                    && s.kind() == Kind.LOG
                    && before.kind() == Kind.LOG
                    && s.store().equals(before.store())
                    && s.stream().equals(before.stream());
            if (!joins) {
                out.add(new ArrayList<>());
            }
            out.get(out.size() - 1).add(s);
            before = s;
        }
        return out;
    }

    private static Optional<Duration> time(List<Step> part) {
        return part.stream().anyMatch(s -> s.time().isEmpty())
                ? Optional.empty()
                : part.stream().map(s -> s.time().orElseThrow()).reduce(Duration::plus);
    }

    private RestoreView.PlanStep step(List<Step> part, Duration starts) {
        Step first = part.get(0);
        Step last = part.get(part.size() - 1);
        boolean known = part.stream().allMatch(s -> s.bytes().isPresent());
        String told = snapshot.copyTold(first.backup(), first.store());
        boolean single = part.size() == 1;
        return new RestoreView.PlanStep(
                first.kind().word(),
                first.backup(),
                single ? null : last.backup(),
                part.size(),
                first.store(),
                fleet.storeName(first.store()),
                first.stream().orElse(null),
                at(last),
                known ? part.stream().mapToDouble(s -> s.bytes().orElse(0)).sum() : null,
                Plans.seconds(starts),
                time(part).map(Plans::seconds).orElse(null),
                single ? Told.path(told).orElse(null) : null,
                single ? Told.checksum(told).orElse(null) : null,
                Told.key(snapshot.rest(first.backup())).orElse(null),
                evidence(part),
                single ? copies(first.backup()) : List.of());
    }

    /** The weakest evidence a part rests on; not told of very many logs, each of which would have to be looked up. */
    private @Nullable String evidence(List<Step> part) {
        return part.size() > LOOKED_UP
                ? null
                : part.stream()
                        .map(s -> Told.evidence(snapshot.copyTold(s.backup(), s.store()))
                                .is())
                        .reduce(Evidence::weaker)
                        .map(Evidence::word)
                        .orElse(null);
    }

    /** Where a backup lies now. */
    private List<RestoreView.CopyAt> copies(String backup) {
        History h = e.history();
        int i = h.row(backup).orElseThrow();
        List<RestoreView.CopyAt> out = new ArrayList<>();
        for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
            if (availability.copyIsLeft(i, c, Hazard.MISHAP)) {
                out.add(new RestoreView.CopyAt(h.store(c), fleet.storeName(h.store(c))));
            }
        }
        out.sort(java.util.Comparator.comparing(RestoreView.CopyAt::storeName));
        return out;
    }
}
