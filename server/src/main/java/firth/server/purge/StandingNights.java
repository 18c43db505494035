package firth.server.purge;

import firth.core.model.Database;
import firth.core.purge.StandingPurge;
import firth.core.record.Deed;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.store.Changed;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.StandingPurges;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ForkJoinPool;
import java.util.stream.Collectors;
import org.jboss.logging.Logger;

/** Makes the lists of standing purges when their nights begin, and ends them when those do. Agents carry them out as any other. */
@ApplicationScoped
class StandingNights {

    private static final Logger LOG = Logger.getLogger(StandingNights.class);

    private final StandingChoice choice;
    private final StandingGate gate;
    private final ListDecisions decisions;
    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;

    StandingNights(
            StandingChoice choice,
            StandingGate gate,
            ListDecisions decisions,
            Evaluations evaluations,
            FactsHolder facts,
            Lookout lookout) {
        this.choice = choice;
        this.gate = gate;
        this.decisions = decisions;
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
    }

    @Scheduled(every = "60s", delayed = "45s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    synchronized void round() {
        facts.store().standingPurges().unfinished().forEach(n -> alone(n.num(), () -> goOn(n)));
        facts.store().standingPurges().current().stream()
                .filter(r -> r.state() == StandingPurges.State.IN_FORCE)
                .forEach(r -> alone(r.num(), () -> begin(r)));
    }

    /** Looks at all of them in a moment: somebody put one in force or withdrew it. */
    void soon() {
        ForkJoinPool.commonPool().execute(this::round);
    }

    /** One that fails keeps no other from its night. */
    private static void alone(long num, Runnable doing) {
        try {
            doing.run();
        } catch (RuntimeException e) {
            LOG.warnf(e, "The standing purge %d could not be looked at; it is looked at again in a minute", num);
        }
    }

    /** Goes on with the list of a night, lets it wait while something pauses it, or ends it with its night. */
    private void goOn(StandingPurges.Night night) {
        String id = night.purge().orElseThrow();
        facts.store().purges().change("The list of a standing purge could not be looked at", steps -> {
            Instant now = lookout.now();
            Purges.Purge purge = steps.find(id).orElseThrow();
            StandingPurges.Rule rule = steps.standing().find(night.num()).orElseThrow();
            boolean over = gate.night(rule, now)
                    .filter(n -> n.date().equals(night.date()))
                    .isEmpty();
            String shut = over ? "" : gate.shut(rule);
            if (over && !purge.state().isOver()) {
                steps.turn(purge, PurgeState.CANCELLED, "", told("purge-cancelled", id, "its night is over"), now);
            } else if (!shut.isEmpty() && purge.state() == PurgeState.RUNNING) {
                steps.turn(purge, PurgeState.PAUSED, shut, told("purge-paused", id, shut), now);
            } else if (shut.isEmpty()
                    && purge.state() == PurgeState.PAUSED
                    && !purge.trouble().isEmpty()) {
                steps.turn(purge, PurgeState.RUNNING, "", told("purge-begun", id, "what paused it is over"), now);
            }
        });
    }

    private static Deed.Told told(String act, String purge, String why) {
        return new Deed.Told(Who.FIRTH, act, purge, PurgeChoices.json(Map.of("why", why)));
    }

    /** Makes the list of a night that has begun, once nothing pauses it. */
    private void begin(StandingPurges.Rule rule) {
        Instant now = lookout.now();
        Optional<StandingPurge.Night> night = gate.night(rule, now);
        if (night.isEmpty() || hasList(rule, night.get())) {
            return;
        }
        String shut = gate.shut(rule);
        if (!shut.isEmpty()) {
            note(rule, night.get(), shut);
            return;
        }
        StandingPurge says = StandingTerms.of(rule);
        Set<String> followers = evaluations.fleetNow().databases().values().stream()
                .filter(d -> d.policyAt(now).filter(rule.policy()::equals).isPresent())
                .map(Database::id)
                .collect(Collectors.toSet());
        PurgeChoices.FleetChoice chosen =
                choice.tonight(says, followers, lookout.present().asOf());
        if (ListDecisions.items(chosen, Set.of()).isEmpty()) {
            note(rule, night.get(), "nothing was obsolete for long enough");
            return;
        }
        try {
            decisions.askByItself(chosen, reason(rule), (steps, purge) -> {
                StandingPurges.Rule seen = steps.standing().find(rule.num()).orElseThrow();
                boolean open = gate.night(seen, lookout.now()).equals(night)
                        && gate.shut(seen).isEmpty()
                        && steps.standing()
                                .night(rule.num(), night.get().date())
                                .flatMap(StandingPurges.Night::purge)
                                .isEmpty();
                if (!open) {
                    throw new Conflict("The night has changed since it was looked at.", "It is looked at again.");
                }
                steps.standing()
                        .note(new StandingPurges.Night(
                                rule.num(), night.get().date(), Optional.of(purge.id()), now, ""));
            });
        } catch (Conflict | Changed meanwhile) {
            LOG.infof("The standing purge %d is looked at again in a minute: %s", rule.num(), meanwhile.getMessage());
        }
    }

    private boolean hasList(StandingPurges.Rule rule, StandingPurge.Night night) {
        return facts.store().standingPurges().nights(rule.policy(), night.date()).stream()
                .anyMatch(n -> n.date().equals(night.date()) && n.purge().isPresent());
    }

    private void note(StandingPurges.Rule rule, StandingPurge.Night night, String said) {
        facts.store()
                .purges()
                .change(
                        "A night of a standing purge could not be noted",
                        steps -> steps.standing()
                                .note(new StandingPurges.Night(
                                        rule.num(), night.date(), Optional.empty(), lookout.now(), said)));
    }

    private static String reason(StandingPurges.Rule rule) {
        return "standing purge of " + rule.policy() + ", proposed by " + rule.by() + ", put in force by "
                + rule.agreedBy().orElse("nobody") + ": " + rule.reason();
    }
}
