package firth.server.cover;

import firth.core.cover.DepthPiece;
import firth.core.cover.Gap;
import firth.core.cover.Hole;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.time.Span;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Turns evaluations into the rows that ribbons are drawn from. */
public final class CoverRows {

    /** Failed runs closer together than this share of the period are one mark. */
    private static final int MARKS = 60;

    private final FleetNow fleet;
    private final Lookout.View view;
    private final Span shown;

    public CoverRows(FleetNow fleet, Lookout.View view) {
        this.fleet = fleet;
        this.view = view;
        this.shown = view.period();
    }

    public Cover.Row row(Evaluation e) {
        Database d = e.database();
        return new Cover.Row(
                d.id(),
                d.name(),
                d.engine().orElse(""),
                fleet.siteName(d.site()),
                d.zone().getId(),
                e.version().map(CoverRows::policy).orElse(null),
                e.grade().word(),
                e.pointsOnly(),
                e.asOf(),
                d.inServiceFrom(),
                hazards(e),
                seconds(e.reach().achieved()),
                e.reach().target().map(CoverRows::seconds).orElse(null),
                e.reach().cover().orElse(null),
                e.reach().since().orElse(null),
                d.particulars().owner().orElse(null),
                d.particulars().labels().entrySet().stream()
                        .map(l -> l.getKey() + ": " + l.getValue())
                        .sorted()
                        .toList(),
                water(e),
                sand(e),
                marks(e));
    }

    private static Cover.Policy policy(PolicyVersion v) {
        List<String> promise = new ArrayList<>();
        Optional.ofNullable(v.objective().rpo().get(Hazard.MISHAP))
                .ifPresent(d -> promise.add("lose " + Wording.duration(d)));
        v.objective().reach().ifPresent(d -> promise.add("go back " + Wording.duration(d)));
        boolean logs = v.schedules().stream().anyMatch(s -> s.kind() == firth.core.model.Kind.LOG && s.enabled());
        if (!logs) {
            promise.add("no logs");
        }
        return new Cover.Policy(v.id(), v.name(), v.version(), v.enabled(), String.join(", ", promise));
    }

    static List<Cover.HazardNow> hazards(Evaluation e) {
        return Arrays.stream(Hazard.values())
                .map(hazard -> {
                    HazardEvaluation h = e.under(hazard);
                    return new Cover.HazardNow(
                            hazard.field(),
                            h.recoveryPoint().orElse(null),
                            seconds(h.age()),
                            h.grows(e.database().clock(), e.asOf()),
                            h.objective().map(CoverRows::seconds).orElse(null),
                            h.achieved().max() / 1000,
                            h.achieved().attainment().orElse(null));
                })
                .toList();
    }

    private List<Cover.Water> water(Evaluation e) {
        Map<Hazard, List<Piece>> restorable = new EnumMap<>(Hazard.class);
        e.hazards().forEach((hazard, h) -> restorable.put(hazard, h.restorable()));
        List<Cover.Water> out = new ArrayList<>();
        for (DepthPiece p : DepthPiece.layered(restorable)) {
            if (!p.to().isBefore(shown.from()) && !p.from().isAfter(shown.to())) {
                out.add(new Cover.Water(
                        p.from(),
                        p.to(),
                        p.survives().size(),
                        p.survives().stream().sorted().map(Hazard::field).toList()));
            }
        }
        return out;
    }

    private List<Cover.Sand> sand(Evaluation e) {
        return Hole.between(e.mishap().restorable(), e.database().inServiceFrom(), view.asOf(), e.gaps()).stream()
                .filter(h -> h.to().isAfter(shown.from()) && h.from().isBefore(shown.to()))
                .filter(h -> h.where() == Hole.Where.AFTER ? behind(e) : !e.pointsOnly())
                .map(h -> new Cover.Sand(
                        h.from(),
                        h.to(),
                        h.where().name().toLowerCase(java.util.Locale.ROOT),
                        h.gap().map(g -> gap(e, g)).orElse(null)))
                .toList();
    }

    private static boolean behind(Evaluation e) {
        return e.mishap()
                .objective()
                .map(o -> e.mishap().age().compareTo(o) > 0)
                .orElse(e.mishap().recoveryPoint().isEmpty());
    }

    public static Cover.GapInfo gap(Evaluation e, Gap g) {
        Optional<Instant> leaves =
                g.before().flatMap(b -> e.reach().leaves(b, e.database().clock()));
        return new Cover.GapInfo(
                g.lineage(),
                g.stream(),
                g.from(),
                g.to(),
                g.after().orElse(null),
                g.before().orElse(null),
                g.bridged() ? "bridged" : "unbridged",
                g.bridgedBy().orElse(null),
                g.bridged() ? leaves.orElse(null) : null,
                g.cause().word());
    }

    private List<Cover.Mark> marks(Evaluation e) {
        History h = e.history();
        List<Cover.Mark> out = new ArrayList<>();
        for (int i : h.others()) {
            Instant at = Instant.ofEpochMilli(h.consistentAtMs(i));
            if (h.kind(i).isData() && inside(at) && exists(h, i)) {
                out.add(new Cover.Mark(h.id(i), h.kind(i).word(), at, false, 1));
            }
        }
        out.addAll(failures(h.failedDataRuns()));
        out.addAll(failures(h.failedLogRuns()));
        out.sort(Comparator.comparing(Cover.Mark::at));
        return out;
    }

    private List<Cover.Mark> failures(List<Run> runs) {
        Duration near = shown.length().dividedBy(MARKS);
        List<Cover.Mark> out = new ArrayList<>();
        for (Run r : runs) {
            if (inside(r.started())) {
                Cover.Mark last = out.isEmpty() ? null : out.get(out.size() - 1);
                if (last != null && r.started().isBefore(last.at().plus(near))) {
                    out.set(out.size() - 1, new Cover.Mark(last.id(), last.kind(), last.at(), true, last.count() + 1));
                } else {
                    out.add(new Cover.Mark(r.id(), r.kind().word(), r.started(), true, 1));
                }
            }
        }
        return out;
    }

    private boolean inside(Instant at) {
        return !at.isBefore(shown.from()) && !at.isAfter(shown.to()) && !at.isAfter(view.asOf());
    }

    /** Whether any copy is there at the moment looked from. */
    private boolean exists(History h, int i) {
        long now = view.asOf().toEpochMilli();
        for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
            if (h.landedMs(c) <= now && h.goneMs(c) > now) {
                return true;
            }
        }
        return false;
    }

    public static double seconds(Duration d) {
        return d.toMillis() / 1000.0;
    }
}
