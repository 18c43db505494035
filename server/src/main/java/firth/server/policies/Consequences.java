package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Followers;
import firth.core.findings.PolicyChange;
import firth.core.findings.PolicyFlaw;
import firth.core.findings.PolicyFlaws;
import firth.core.forecast.PolicyOutcome;
import firth.core.forecast.QuietMoment;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.wording.PolicyWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.concurrent.ConcurrentHashMap;

/** What rules would have done to those who follow them, over the history there is. */
@ApplicationScoped
public class Consequences {

    private final PolicyFollowers following;
    private final Lookout lookout;
    private final Map<String, Before> before = new ConcurrentHashMap<>();

    private record Before(PolicyVersion version, List<Evaluation> answers, List<PolicyOutcome> outcomes) {}

    Consequences(PolicyFollowers following, Lookout lookout) {
        this.following = following;
        this.lookout = lookout;
    }

    /**
     * Replays a policy as written beside the one in force.
     *
     * @param followers of which policy the databases are taken, mostly the same
     * @param enough how many of them are enough; empty: all
     */
    Policies.Replay replay(PolicyVersion written, String followers, OptionalInt enough) {
        PolicyFollowers.Some some = following.some(followers, enough);
        Evaluations.Fleetwide all = following.of(some);
        Fleet fleet = all.fleet().fleet();
        Optional<PolicyVersion> inForce = fleet.versionAt(followers, lookout.now());
        List<PolicyOutcome> after = outcomes(all, written);
        List<PolicyOutcome> before = inForce.map(v -> asItWas(all, v)).orElse(List.of());
        Lookout.View view = lookout.view("", "");
        Followers followersOf = following.inCommon(all);
        return new Policies.Replay(
                null,
                after.size(),
                some.others(),
                view.period().from(),
                view.period().to(),
                inForce.map(v -> column(all, before)).orElse(null),
                column(all, after),
                worse(all, before, after),
                flaws(written, followersOf, lookout.now()),
                takes(followersOf),
                following.quiet(all).map(Consequences::quiet).orElse(null));
    }

    /** The outcomes of the version in force, worked out once for as long as the answers stay the same. */
    private List<PolicyOutcome> asItWas(Evaluations.Fleetwide all, PolicyVersion version) {
        Before known = before.get(version.id());
        if (known == null || !known.version.equals(version) || !same(known.answers, all.answers())) {
            known = new Before(version, all.answers(), outcomes(all, version));
            before.put(version.id(), known);
        }
        return known.outcomes;
    }

    @SuppressWarnings(
            "ReferenceEquality") // whether it is the very one that was kept: looking inside would cost what is to be
    // saved
    private static boolean same(List<Evaluation> one, List<Evaluation> other) {
        boolean same = one.size() == other.size();
        for (int i = 0; i < one.size() && same; i++) {
            same = one.get(i) == other.get(i);
        }
        return same;
    }

    private static List<PolicyOutcome> outcomes(Evaluations.Fleetwide all, PolicyVersion version) {
        Fleet fleet = all.fleet().fleet().replaying(version);
        return all.answers().parallelStream()
                .map(e -> PolicyOutcome.of(judged(all.facts(e), e, version, fleet)))
                .toList();
    }

    private static Evaluation judged(DatabaseFacts facts, Evaluation known, PolicyVersion version, Fleet fleet) {
        DatabaseFacts following = new DatabaseFacts(
                facts.database().following(version.id()), facts.history(), facts.holds(), facts.closures());
        return known.judgedBy(following, fleet);
    }

    private static Policies.Column column(Evaluations.Fleetwide all, List<PolicyOutcome> outcomes) {
        double[] kept = outcomes.stream()
                .map(PolicyOutcome::attainment)
                .flatMap(Optional::stream)
                .mapToDouble(Double::doubleValue)
                .toArray();
        List<PolicyOutcome> asked =
                outcomes.stream().filter(o -> o.reachHeld().isPresent()).toList();
        PolicyOutcome.Pile obsolete =
                outcomes.stream().map(PolicyOutcome::obsolete).reduce(PolicyOutcome.Pile.NONE, PolicyOutcome.Pile::and);
        PolicyOutcome.Pile locked = outcomes.stream()
                .map(PolicyOutcome::lockedOnly)
                .reduce(PolicyOutcome.Pile.NONE, PolicyOutcome.Pile::and);
        return new Policies.Column(
                kept.length == 0 ? null : Arrays.stream(kept).average().orElse(0),
                Arrays.stream(Hazard.values()).map(h -> worst(all, outcomes, h)).toList(),
                (int) asked.stream().filter(o -> o.reachHeld().orElse(false)).count(),
                asked.size(),
                asked.stream()
                        .filter(o -> !o.reachHeld().orElse(true))
                        .map(o -> name(all, o))
                        .toList(),
                outcomes.stream().mapToInt(PolicyOutcome::slotsKept).sum(),
                outcomes.stream().mapToInt(PolicyOutcome::slotsAsked).sum(),
                obsolete.copies(),
                obsolete.bytes(),
                locked.copies(),
                locked.bytes(),
                locked.lastLock().orElse(null));
    }

    private static Policies.Worst worst(Evaluations.Fleetwide all, List<PolicyOutcome> outcomes, Hazard hazard) {
        Optional<PolicyOutcome> worst =
                outcomes.stream().max(Comparator.comparing(o -> o.worst().get(hazard)));
        return new Policies.Worst(
                hazard.field(),
                worst.map(o -> CoverRows.seconds(o.worst().getOrDefault(hazard, Duration.ZERO)))
                        .orElse(0.0),
                worst.map(o -> name(all, o)).orElse(null),
                outcomes.stream().anyMatch(o -> o.broken().contains(hazard)));
    }

    private static List<Policies.Worse> worse(
            Evaluations.Fleetwide all, List<PolicyOutcome> before, List<PolicyOutcome> after) {
        List<Policies.Worse> out = new ArrayList<>();
        for (int i = 0; i < before.size(); i++) {
            List<PolicyOutcome.Worse> in = after.get(i).worseThan(before.get(i));
            if (!in.isEmpty()) {
                out.add(new Policies.Worse(
                        after.get(i).database(),
                        name(all, after.get(i)),
                        in.stream().map(PolicyOutcome.Worse::word).toList()));
            }
        }
        return out;
    }

    private static String name(Evaluations.Fleetwide all, PolicyOutcome outcome) {
        return all.fleet().databaseName(outcome.database());
    }

    static List<Policies.Flaw> flaws(PolicyVersion version, Followers followers, Instant from) {
        return PolicyFlaws.of(version, followers, from).stream()
                .map(Consequences::flaw)
                .toList();
    }

    private static Policies.Flaw flaw(PolicyFlaw flaw) {
        return new Policies.Flaw(
                flaw.code(),
                flaw.path(),
                PolicyWords.of(flaw),
                flaw.waysOut().stream().map(Consequences::wayOut).toList());
    }

    private static Policies.WayOut wayOut(PolicyChange change) {
        return new Policies.WayOut(change.path(), change.from(), change.to());
    }

    private static List<Policies.Takes> takes(Followers followers) {
        List<Policies.Takes> out = new ArrayList<>();
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR)) {
            followers
                    .takes(kind)
                    .ifPresent(
                            t -> out.add(new Policies.Takes(kind.word(), t.database(), CoverRows.seconds(t.value()))));
        }
        return out;
    }

    private static Policies.Quiet quiet(QuietMoment q) {
        return new Policies.Quiet(
                q.at(), q.waitsFor().orElse(null), q.schedule().orElse(null));
    }
}
