package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Followers;
import firth.core.findings.PolicyChange;
import firth.core.findings.PolicyFlaw;
import firth.core.findings.PolicyFlaws;
import firth.core.forecast.Fare;
import firth.core.forecast.QuietMoment;
import firth.core.forecast.Surplus;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.wording.PolicyWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
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

    private record Before(PolicyVersion version, List<Evaluation> answers, Surplus surplus) {}

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
        Lookout.View view = lookout.view("", "");
        Followers followersOf = following.inCommon(all);
        return new Policies.Replay(
                null,
                all.answers().size(),
                some.others(),
                view.period().from(),
                view.period().to(),
                FaredViews.of(
                        all.answers().stream().map(Fare::of).toList(),
                        i -> name(all, all.answers().get(i).database())),
                inForce.map(v -> unneeded(asItIs(all, v))).orElse(null),
                unneeded(surplus(all, written)),
                flaws(written, followersOf, lookout.now()),
                takes(followersOf),
                following.quiet(all).map(Consequences::quiet).orElse(null));
    }

    /** What the version in force does not need, worked out once for as long as the answers stay the same. */
    private Surplus asItIs(Evaluations.Fleetwide all, PolicyVersion version) {
        Before known = before.get(version.id());
        if (known == null || !known.version.equals(version) || !same(known.answers, all.answers())) {
            known = new Before(version, all.answers(), surplus(all, version));
            before.put(version.id(), known);
        }
        return known.surplus;
    }

    @SuppressWarnings(
            "ReferenceEquality") // whether it is the very one that was kept: looking inside would cost what is to be
    // saved
    static boolean same(List<Evaluation> one, List<Evaluation> other) {
        boolean same = one.size() == other.size();
        for (int i = 0; i < one.size() && same; i++) {
            same = one.get(i) == other.get(i);
        }
        return same;
    }

    private static Surplus surplus(Evaluations.Fleetwide all, PolicyVersion version) {
        Fleet fleet = all.fleet().fleet().replaying(version);
        return all.answers().parallelStream()
                .map(e -> Surplus.of(judged(all.facts(e), e, version, fleet)))
                .reduce(Surplus.NONE, Surplus::and);
    }

    private static Evaluation judged(DatabaseFacts facts, Evaluation known, PolicyVersion version, Fleet fleet) {
        DatabaseFacts following = new DatabaseFacts(
                facts.database().following(version.id()), facts.history(), facts.holds(), facts.closures());
        return known.judgedBy(following, fleet);
    }

    private static Policies.Unneeded unneeded(Surplus of) {
        return new Policies.Unneeded(
                of.obsolete().copies(),
                of.obsolete().bytes(),
                of.lockedOnly().copies(),
                of.lockedOnly().bytes(),
                of.lockedOnly().lastLock().orElse(null));
    }

    private static String name(Evaluations.Fleetwide all, Database database) {
        return all.fleet().databaseName(database.id());
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
