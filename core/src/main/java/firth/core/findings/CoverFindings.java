package firth.core.findings;

import firth.core.cover.Gap;
import firth.core.cover.Hole;
import firth.core.cover.RecoveryTimeline;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.objective.Breach;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is wrong with what can be restored. */
final class CoverFindings {

    private final Evaluation e;
    private final Database database;
    private final WaysOut ways;
    private final List<Finding> found = new ArrayList<>();

    private CoverFindings(Evaluation e, DatabaseFacts facts, Fleet fleet) {
        this.e = e;
        this.database = e.database();
        this.ways = new WaysOut(e, facts, fleet);
    }

    static List<Finding> of(Evaluation e, DatabaseFacts facts, Fleet fleet) {
        if (isSound(e)) {
            return List.of();
        }
        CoverFindings findings = new CoverFindings(e, facts, fleet);
        if (e.grade() == Grade.STRANDED) {
            findings.stranded();
        } else if (e.mishap().isMissed()) {
            findings.behind();
        } else {
            findings.unbridged();
        }
        findings.holes();
        for (Hazard hazard : List.of(Hazard.SITE_LOSS, Hazard.SABOTAGE)) {
            findings.hazard(hazard);
        }
        return findings.found;
    }

    /** Whether there is nothing to look for, which is what is mostly found. */
    private static boolean isSound(Evaluation e) {
        return e.grade() == Grade.NEW || e.grade() == Grade.COVERED && e.gaps().isEmpty();
    }

    private void stranded() {
        RecoveryTimeline timeline = e.mishap().timeline();
        Instant since = database.inServiceFrom();
        int last = timeline.steps() - 1;
        if (last >= 0) {
            since = Instant.ofEpochMilli(timeline.atMs(last));
        }
        Optional<Failing> failing = Failing.since(e.history(), false, lastGood(), e.asOf());
        if (failing.isEmpty() && e.history().size() == 0) {
            neverBackedUp();
            return;
        }
        cover(
                "stranded",
                Severity.STRANDED,
                Optional.of(since),
                new Detail.NothingRestorable(failing, database.zone()),
                failing);
    }

    /** One cause for all that follow a policy: whatever was to begin backing them up did not. */
    private void neverBackedUp() {
        List<WayOut> tried = ways.ofCover();
        String policy = e.version().map(PolicyVersion::id).orElse("");
        found.add(new Finding(
                "never-backed-up",
                Severity.STRANDED,
                policy.isEmpty() ? "without a policy" : "policy:" + policy,
                List.of(database.id()),
                Optional.of(database.inServiceFrom()),
                new Detail.NeverBackedUp(e.version().map(PolicyVersion::name)),
                tried,
                List.of()));
    }

    /** When the newest data backup began. */
    private Instant lastGood() {
        Instant out = database.inServiceFrom();
        for (int i : e.history().others()) {
            Instant started = Instant.ofEpochMilli(e.history().startedMs(i));
            if (e.history().kind(i).isData() && started.isAfter(out) && !started.isAfter(e.asOf())) {
                out = started;
            }
        }
        return out;
    }

    private void behind() {
        HazardEvaluation h = e.mishap();
        Duration objective = h.objective().orElse(Duration.ZERO);
        Instant point = h.recoveryPoint().orElse(database.inServiceFrom());
        Instant since = began(h);
        Optional<Failing> failing = Failing.since(e.history(), true, point, e.asOf())
                .or(() -> Failing.since(e.history(), false, point, e.asOf()));
        Optional<Gap> gap = e.gaps().stream().filter(g -> !g.bridged()).reduce((one, other) -> other);
        Optional<Failing> blamed = gap.isPresent() ? Optional.empty() : failing;
        cover(
                "behind",
                Severity.BEHIND,
                Optional.of(since),
                new Detail.TooOld(h.age(), point, objective, gap.map(this::missing), blamed, database.zone()),
                blamed);
    }

    /** When the age passed what is promised; a breach that reaches back to the beginning of the period began before that. */
    private Instant began(HazardEvaluation h) {
        Instant point = h.recoveryPoint().orElse(database.inServiceFrom());
        long passed = database.clock()
                .after(point.toEpochMilli(), h.objective().orElse(Duration.ZERO).toMillis());
        return h.breaches().stream()
                .map(Breach::from)
                .reduce((one, other) -> other)
                .filter(b -> b.isAfter(point) && b.isAfter(e.period().from()))
                .orElse(Instant.ofEpochMilli(passed));
    }

    private Detail.MissingLogs missing(Gap gap) {
        return new Detail.MissingLogs(gap, database.streams().size() > 1, database.engine());
    }

    private void unbridged() {
        e.gaps().stream()
                .filter(g -> !g.bridged())
                .reduce((one, other) -> other)
                .ifPresent(gap -> cover(
                        "unbridged-gap",
                        Severity.UNBRIDGED_GAP,
                        gap.after(),
                        new Detail.NewestLogsUseless(missing(gap), database.zone()),
                        Optional.empty()));
    }

    private void cover(
            String code, Severity severity, Optional<Instant> since, Detail detail, Optional<Failing> failing) {
        List<WayOut> tried = ways.ofCover();
        found.add(new Finding(
                code,
                severity,
                failing.flatMap(f -> f.cause(database.id(), database.name())).orElse(database.id()),
                List.of(database.id()),
                since,
                detail,
                tried,
                failing.map(Failing::ids).orElse(List.of())));
    }

    /** Holes inside reach that something later bridges: nothing can repair them. */
    private void holes() {
        Instant from = e.reach().since().orElse(Instant.MAX);
        List<Hole> holes = new ArrayList<>();
        for (Hole h : Hole.between(e.mishap().restorable(), database.inServiceFrom(), e.asOf(), e.gaps())) {
            if (h.where() == Hole.Where.BETWEEN && h.to().isAfter(from)) {
                int last = holes.size() - 1;
                if (last >= 0 && h.gap().isPresent() && holes.get(last).gap().equals(h.gap())) {
                    holes.set(last, new Hole(holes.get(last).from(), h.to(), h.where(), h.gap()));
                } else {
                    holes.add(h);
                }
            }
        }
        holes.forEach(this::hole);
        if (holes.isEmpty() && e.grade() == Grade.SHORT) {
            found.add(Finding.of(
                    "short",
                    Severity.BRIDGED_GAP,
                    database.id(),
                    database.id(),
                    Optional.empty(),
                    new Detail.ReachShort(
                            e.reach().achieved(),
                            e.reach().target(),
                            e.mishap()
                                    .recoveryPoint()
                                    .map(p -> p.minus(e.reach().achieved())),
                            database.zone()),
                    List.of()));
        }
    }

    private void hole(Hole hole) {
        Optional<Instant> leaves = e.reach().leaves(hole.to(), database.clock());
        found.add(Finding.of(
                "hole-in-reach",
                Severity.BRIDGED_GAP,
                database.id(),
                database.id() + "/" + hole.from(),
                Optional.of(hole.from()),
                new Detail.HoleInReach(hole.from(), hole.to(), hole.gap().map(this::missing), leaves, database.zone()),
                hole.gap().map(Gap::failedRuns).orElse(List.of())));
    }

    /** One that is missed though a mishap would cost no more than is promised. */
    private void hazard(Hazard hazard) {
        HazardEvaluation h = e.under(hazard);
        if (!h.isMissed() || e.grade() == Grade.STRANDED || e.mishap().isMissed()) {
            return;
        }
        List<WayOut> tried = ways.ofHazard(hazard);
        Optional<WayOut> best = tried.stream().filter(WayOut::ends).findFirst();
        found.add(new Finding(
                hazard == Hazard.SITE_LOSS ? "site-loss-missed" : "sabotage-missed",
                Severity.HAZARD_MISSED,
                best.map(WayOut::store).orElse(database.id()),
                List.of(database.id()),
                Optional.of(began(h)),
                new Detail.HazardMissed(hazard, h.age(), h.recoveryPoint(), h.objective(), database.zone()),
                tried,
                List.of()));
    }
}
