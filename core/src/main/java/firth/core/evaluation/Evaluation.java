package firth.core.evaluation;

import firth.core.adherence.Attempts;
import firth.core.adherence.Cadence;
import firth.core.adherence.CadenceGap;
import firth.core.adherence.Onboarding;
import firth.core.adherence.Slot;
import firth.core.adherence.Slots;
import firth.core.cover.Availability;
import firth.core.cover.Gap;
import firth.core.cover.Gaps;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Piece;
import firth.core.cover.RecoveryTimeline;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.objective.Achieved;
import firth.core.objective.AgePieces;
import firth.core.objective.Attainment;
import firth.core.objective.ObjectiveTimeline;
import firth.core.retention.Retention;
import firth.core.retention.RetentionRules;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * Everything Firth says of one database as of a moment: a pure function of the facts, the fleet's policies and stores,
 * the moment and the period. No state is kept between calls.
 *
 * @param version the policy version in force, switched on or not
 * @param onboarding the time before its first restorable moment; the period is cut to begin at its end
 */
public record Evaluation(
        Database database,
        History history,
        Instant asOf,
        Span period,
        Optional<PolicyVersion> version,
        Onboarding onboarding,
        Grade grade,
        boolean pointsOnly,
        Map<Hazard, HazardEvaluation> hazards,
        Reach reach,
        List<Gap> gaps,
        Retention retention,
        List<Slot> slots,
        List<CadenceGap> cadence,
        List<Contradiction> contradictions) {

    /**
     * Evaluates a database.
     *
     * @param asOf what began, landed, went or was found after it is not known
     * @param period the stretch the achieved figures are about; cut to what lies between the in-service moment and asOf
     */
    public static Evaluation of(DatabaseFacts facts, Fleet fleet, Instant asOf, Span period) {
        return new Work(facts, fleet, asOf, period).evaluate();
    }

    /**
     * The same facts, moment and period judged by other policies. What can be restored, how old the recovery point was and
     * which gaps there are depends on no policy and is taken over.
     *
     * @param facts those this evaluation is of
     * @param other the same stores with other policies
     */
    public Evaluation judgedBy(DatabaseFacts facts, Fleet other) {
        return new Work(facts, other, asOf, period).judgeAgain(this);
    }

    /**
     * How old the recovery point is a while after the moment of the evaluation, where nothing has come since and time alone has changed
     * nothing.
     *
     * @param later not before that moment, and before the next at which time alone changes the answer
     */
    public Duration age(Hazard hazard, Instant later) {
        HazardEvaluation h = under(hazard);
        return h.grows(database.clock(), asOf) ? h.age().plus(Duration.between(asOf, later)) : h.age();
    }

    /** What holds under a hazard; every hazard is evaluated. */
    public HazardEvaluation under(Hazard hazard) {
        return Objects.requireNonNull(hazards.get(hazard));
    }

    public HazardEvaluation mishap() {
        return under(Hazard.MISHAP);
    }

    /** Under which hazards the age is above what is promised, in the order of hazards. */
    public List<Hazard> missed() {
        return Arrays.stream(Hazard.values()).filter(h -> under(h).isMissed()).toList();
    }

    /**
     * When the age under a hazard passes what is promised, or passed it, if nothing more lands; empty where nothing is promised, or the
     * database stands still for ever before.
     */
    public Optional<Instant> breaksAt(Hazard hazard) {
        HazardEvaluation h = under(hazard);
        Instant point = h.recoveryPoint().orElse(database.inServiceFrom());
        return h.objective()
                .map(o -> database.clock().after(point.toEpochMilli(), o.toMillis()))
                .filter(at -> at != Spans.FOREVER)
                .map(Instant::ofEpochMilli);
    }

    /** When the first of what is still kept breaks if nothing more lands; empty where no age that is promised grows. */
    public Optional<Instant> firstBreak() {
        return Arrays.stream(Hazard.values())
                .filter(h -> !under(h).isMissed() && under(h).grows(database.clock(), asOf))
                .flatMap(h -> breaksAt(h).stream())
                .min(Comparator.naturalOrder());
    }

    /** Whether neither an age nor a reach is promised, so that there is nothing a grade could be of. */
    public boolean promisesNothing() {
        return reach.target().isEmpty()
                && hazards.values().stream().allMatch(h -> h.objective().isEmpty());
    }

    /** One evaluation under way. */
    private static final class Work {
        private final DatabaseFacts facts;
        private final Database database;
        private final History history;
        private final Fleet fleet;
        private final Instant asOf;
        private final Span period;
        private final long now;
        private final long inService;
        private final RunningTime clock;
        private final Availability availability;
        private final Lines lines;

        @SuppressWarnings("NullAway.Init")
        private Onboarding onboarding;

        Work(DatabaseFacts facts, Fleet fleet, Instant asOf, Span period) {
            this.facts = facts;
            this.database = facts.database();
            this.history = facts.history();
            this.fleet = fleet;
            this.asOf = asOf;
            this.period = period;
            this.now = asOf.toEpochMilli();
            this.inService = database.inServiceFrom().toEpochMilli();
            this.clock = database.clock();
            this.availability = new Availability(database, fleet, history, now);
            this.lines = new Lines(history, availability);
        }

        Evaluation evaluate() {
            HazardCover mishap = HazardCover.of(history, lines, availability, Hazard.MISHAP);
            onboarding = Onboarding.of(database, fleet, mishap.timeline(), now);
            Map<Hazard, HazardEvaluation> hazards = new EnumMap<>(Hazard.class);
            hazards.put(Hazard.MISHAP, hazard(Hazard.MISHAP, mishap));
            for (Hazard hazard : List.of(Hazard.SITE_LOSS, Hazard.SABOTAGE)) {
                Optional<Hazard> same = hazards.keySet().stream()
                        .filter(known -> availability.leaveTheSame(known, hazard))
                        .findFirst();
                hazards.put(
                        hazard,
                        same.map(known -> againstOther(hazard, Objects.requireNonNull(hazards.get(known))))
                                .orElseGet(() -> hazard(hazard, HazardCover.of(history, lines, availability, hazard))));
            }
            return judged(
                    hazards,
                    mishap,
                    Gaps.of(database, history, availability, mishap, Hazard.MISHAP),
                    Contradictions.of(database, history, lines, availability));
        }

        Evaluation judgeAgain(Evaluation known) {
            Map<Hazard, HazardEvaluation> hazards = new EnumMap<>(Hazard.class);
            onboarding = Onboarding.of(database, fleet, known.mishap().timeline(), now);
            boolean sameBegin = known.onboarding().equals(onboarding);
            known.hazards().forEach((hazard, h) -> hazards.put(hazard, againstOther(hazard, sameBegin ? h : anew(h))));
            return judged(
                    hazards,
                    HazardCover.now(history, lines, availability, Hazard.MISHAP),
                    known.gaps(),
                    known.contradictions().stream()
                            .filter(c -> !(c instanceof Contradiction.VersionsBeginTogether))
                            .toList());
        }

        private HazardEvaluation againstOther(Hazard hazard, HazardEvaluation h) {
            ObjectiveTimeline objectives = ObjectiveTimeline.of(fleet, database, hazard);
            Attainment attainment = Attainment.of(h.ages(), objectives);
            return new HazardEvaluation(
                    h.recoveryPoint(),
                    h.age(),
                    objective(objectives),
                    h.achieved().with(attainment.share()),
                    attainment.breaches(),
                    h.restorable(),
                    h.ages(),
                    h.timeline());
        }

        /** The same with its figures over a period that begins elsewhere. */
        private HazardEvaluation anew(HazardEvaluation h) {
            AgePieces ages = ages(h.timeline());
            return new HazardEvaluation(
                    h.recoveryPoint(),
                    h.age(),
                    h.objective(),
                    Achieved.of(ages, Optional.empty()),
                    h.breaches(),
                    h.restorable(),
                    ages,
                    h.timeline());
        }

        /** What policies say of what can be restored. */
        private Evaluation judged(
                Map<Hazard, HazardEvaluation> hazards,
                HazardCover mishap,
                List<Gap> gaps,
                List<Contradiction> records) {
            Optional<PolicyVersion> version = fleet.versionAt(database, asOf);
            HazardEvaluation now = Objects.requireNonNull(hazards.get(Hazard.MISHAP));
            Reach reach = reach(now, version);
            List<Contradiction> contradictions = new ArrayList<>(records);
            contradictions.addAll(Contradictions.ofVersions(database, fleet));
            return new Evaluation(
                    database,
                    history,
                    asOf,
                    period,
                    version,
                    onboarding,
                    onboarding.lasts() ? Grade.NEW : grade(now, hazards, reach),
                    !now.restorable().isEmpty() && now.restorable().stream().allMatch(Piece::isPoint),
                    Map.copyOf(hazards),
                    reach,
                    gaps,
                    RetentionRules.judge(database, history, availability, mishap, clock, version, facts.holds()),
                    Slots.of(
                            database,
                            fleet,
                            asOf,
                            period,
                            clock.stopped(),
                            facts.closures(),
                            Attempts.known(history, asOf, Slots.kinds(fleet, database))),
                    Cadence.of(database, fleet, history, availability, clock, period),
                    List.copyOf(contradictions));
        }

        private Optional<Duration> objective(ObjectiveTimeline objectives) {
            long objective = objectives.atMs(now);
            return objective == ObjectiveTimeline.NONE ? Optional.empty() : Optional.of(Duration.ofMillis(objective));
        }

        private HazardEvaluation hazard(Hazard hazard, HazardCover cover) {
            RecoveryTimeline timeline = cover.timeline();
            ObjectiveTimeline objectives = ObjectiveTimeline.of(fleet, database, hazard);
            AgePieces ages = ages(timeline);
            Achieved achieved = Achieved.of(ages, Optional.empty());
            Attainment attainment = Attainment.of(ages, objectives);
            int step = timeline.stepAt(now);
            long latest = step < 0 ? RecoveryTimeline.NOTHING : timeline.latestMs(step, now);
            long point = Math.min(latest, now);
            return new HazardEvaluation(
                    latest == RecoveryTimeline.NOTHING || point < inService
                            ? Optional.empty()
                            : Optional.of(Instant.ofEpochMilli(point)),
                    Duration.ofMillis(AgePieces.ageAt(now, latest, clock, inService)),
                    objective(objectives),
                    achieved.with(attainment.share()),
                    attainment.breaches(),
                    cover.restorable(),
                    ages,
                    timeline);
        }

        /** Where the period begins: it is cut to what lies after the database came into service and was taken on. */
        private long begin() {
            return Math.max(period.from().toEpochMilli(), Math.max(inService, onboarding.until()));
        }

        private AgePieces ages(RecoveryTimeline timeline) {
            return AgePieces.of(
                    timeline, clock, inService, begin(), Math.min(period.to().toEpochMilli(), now));
        }

        /** The tail counts while it is within objective. */
        private Reach reach(HazardEvaluation mishap, Optional<PolicyVersion> version) {
            return Reach.of(
                    version.filter(PolicyVersion::enabled)
                            .flatMap(v -> v.objective().reach()),
                    mishap.restorable(),
                    mishap.recoveryPoint(),
                    !mishap.isMissed(),
                    database,
                    asOf);
        }

        private Grade grade(HazardEvaluation mishap, Map<Hazard, HazardEvaluation> hazards, Reach reach) {
            if (mishap.restorable().isEmpty()) {
                return Grade.STRANDED;
            }
            if (hazards.values().stream().anyMatch(HazardEvaluation::isMissed)) {
                return Grade.BEHIND;
            }
            boolean older =
                    reach.since().filter(s -> s.toEpochMilli() > inService).isPresent();
            return older && reach.cover().orElse(1.0) < 1 ? Grade.SHORT : Grade.COVERED;
        }
    }
}
