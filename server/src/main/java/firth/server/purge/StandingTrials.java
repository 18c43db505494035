package firth.server.purge;

import firth.core.findings.Finding.Severity;
import firth.core.model.Worded;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.purge.StandingPurge;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.platform.FactsHolder;
import firth.store.Lives;
import firth.wording.ProofWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What a standing purge would have done in the nights that were, by the rules, holds and facts of each, and what today's rules would
 * miss of it.
 */
@ApplicationScoped
class StandingTrials {

    private static final int NIGHTS = 30;

    /** So many databases are looked at, taken evenly from all that follow. */
    private static final int LOOKED = 40;

    private static final int FIRST = 12;

    private final StandingChoice choice;
    private final PolicyFollowers following;
    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;

    StandingTrials(
            StandingChoice choice,
            PolicyFollowers following,
            Evaluations evaluations,
            FactsHolder facts,
            Lookout lookout) {
        this.choice = choice;
        this.following = following;
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
    }

    StandingView.Trial of(StandingView.Terms terms) {
        StandingPurge rule = StandingTerms.of(terms);
        PolicyFollowers.Some followers = following.some(rule.policy(), OptionalInt.of(LOOKED));
        return new Run(rule, followers, lookout.present().asOf()).trial();
    }

    /** One trial. */
    private final class Run {
        private final StandingPurge rule;
        private final PolicyFollowers.Some followers;
        private final Instant now;
        private final Obstacles obstacles;
        private final List<Lives.Life> lives;
        private final FleetNow fleet = evaluations.fleetNow();
        private final Map<Instant, StandingChoice.At> looked = new HashMap<>();
        private final Map<String, List<StandingPurge.Going>> gone = new HashMap<>();
        private final Set<Chosen> copies = new HashSet<>();
        private final Map<StandingPurge.Going, StandingPurge.Night> first = new LinkedHashMap<>();

        Run(StandingPurge rule, PolicyFollowers.Some followers, Instant now) {
            this.rule = rule;
            this.followers = followers;
            this.now = now;
            this.obstacles = Obstacles.at(facts.store(), now);
            List<StandingPurge.Night> nights = rule.begunBy(now, NIGHTS);
            this.lives = facts.store().lives().during(nights.get(0).opens(), now);
        }

        StandingView.Trial trial() {
            List<StandingView.TrialNight> nights =
                    rule.begunBy(now, NIGHTS).stream().map(this::night).toList();
            List<StandingChoice.Free> left = free(now);
            return new StandingView.Trial(
                    nights,
                    nights.stream().mapToInt(StandingView.TrialNight::copies).sum(),
                    nights.stream().mapToDouble(StandingView.TrialNight::bytes).sum(),
                    followers.ids().size(),
                    followers.others(),
                    left.size(),
                    left.stream().mapToDouble(f -> f.going().bytes()).sum(),
                    flaws(),
                    told());
        }

        private StandingChoice.At at(Instant moment) {
            return looked.computeIfAbsent(moment, m -> choice.at(followers.ids(), m, obstacles, false));
        }

        /** What may go at a moment and has not gone before. */
        private List<StandingChoice.Free> free(Instant moment) {
            return at(moment).longObsolete(at(moment.minus(rule.obsoleteFor()))).stream()
                    .filter(f -> !copies.contains(f.going().copy()))
                    .toList();
        }

        private StandingView.TrialNight night(StandingPurge.Night night) {
            String date = night.date().toString();
            Optional<String> paused = lives.stream()
                    .filter(l -> !l.first().isAfter(night.opens())
                            && l.gone().filter(g -> !g.isAfter(night.opens())).isEmpty())
                    .filter(l -> Worded.find(Severity.class, l.severity())
                            .filter(s -> StandingGate.pauses(rule, s, databases(l), followers.ids()))
                            .isPresent())
                    .map(Lives.Life::title)
                    .findFirst();
            if (paused.isPresent()) {
                return new StandingView.TrialNight(date, night.opens(), 0, 0, paused.get());
            }
            List<StandingPurge.Going> going = rule.tonight(
                    free(night.opens()).stream().map(StandingChoice.Free::going).toList());
            for (StandingPurge.Going g : going) {
                copies.add(g.copy());
                gone.computeIfAbsent(g.database(), d -> new ArrayList<>()).add(g);
                if (first.size() < FIRST) {
                    first.put(g, night);
                }
            }
            return new StandingView.TrialNight(
                    date,
                    night.opens(),
                    going.size(),
                    going.stream().mapToDouble(StandingPurge.Going::bytes).sum(),
                    "");
        }

        /** The first copies with why no rule needed them in their night. */
        private List<StandingView.TrialCopy> told() {
            List<StandingView.TrialCopy> out = new ArrayList<>();
            for (StandingPurge.Night night : new LinkedHashSet<>(first.values())) {
                Set<String> databases = first.entrySet().stream()
                        .filter(f -> f.getValue().equals(night))
                        .map(f -> f.getKey().database())
                        .collect(Collectors.toSet());
                choice.at(databases, night.opens(), obstacles, true).free().stream()
                        .filter(f -> night.equals(first.get(f.going())))
                        .map(f -> copy(night, f.going(), f.item()))
                        .forEach(out::add);
            }
            return out;
        }

        private StandingView.TrialCopy copy(StandingPurge.Night night, StandingPurge.Going g, PurgeChoices.Going item) {
            return new StandingView.TrialCopy(
                    night.date().toString(),
                    g.database(),
                    fleet.databaseName(g.database()),
                    item.backup(),
                    item.kind(),
                    fleet.storeName(item.store()),
                    item.bytes(),
                    item.why());
        }

        /** What of today's rules and promises would be harmed, had all that gone. */
        private List<String> flaws() {
            return evaluations
                    .walk(
                            d -> gone.containsKey(d.id()),
                            lookout.at(now),
                            one -> StandingChoice.proof(one, gone.getOrDefault(one.id(), List.of())).flaws().stream()
                                    .map(f -> one.answer().database().name() + ": " + ProofWords.of(f))
                                    .toList())
                    .stream()
                    .flatMap(List::stream)
                    .toList();
        }
    }

    private static List<String> databases(Lives.Life life) {
        return life.databases().isEmpty() ? List.of() : List.of(life.databases().split(","));
    }
}
