package firth.server.purge;

import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.purge.PromisedReach;
import firth.core.purge.PurgeProof;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.purge.StillComing;
import firth.core.retention.Verdict;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.ItemState;
import firth.store.Purges;
import firth.store.Snapshot;
import firth.wording.ProofWords;
import firth.wording.explain.Reasons;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Proves items of a list again against the facts of this moment. */
@ApplicationScoped
class ItemReproof {

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    ItemReproof(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /**
     * Of some items those that may not be deleted now, each with the reason: by the clock, the rules and the facts of this moment, which
     * within {@link Purges#act} is the one that counts.
     */
    List<Purges.Outcome> dropped(List<Purges.Item> items) {
        List<Purges.Item> open = items.stream().filter(i -> i.state().isOpen()).toList();
        Map<String, List<Purges.Item>> byDatabase =
                open.stream().collect(Collectors.groupingBy(Purges.Item::database, TreeMap::new, Collectors.toList()));
        Lookout.View present = lookout.present();
        Evaluations.Fleetwide now = evaluations.once(d -> byDatabase.containsKey(d.id()), present);
        Obstacles obstacles = Obstacles.ofListed(facts.store(), present.asOf());
        Map<String, Evaluation> answers = new HashMap<>();
        now.answers().forEach(e -> answers.put(e.database().id(), e));
        List<Purges.Outcome> out = new ArrayList<>();
        byDatabase.forEach((database, own) -> {
            Evaluation e = answers.get(database);
            if (e == null) {
                own.forEach(i -> out.add(outcome(i, "nothing is known of " + database + " any more")));
            } else {
                out.addAll(new One(now, e, own, obstacles, new StillComing(e)).dropped());
            }
        });
        return out;
    }

    private static Purges.Outcome outcome(Purges.Item item, String why) {
        return item.becomes(ItemState.DROPPED, why, OptionalDouble.empty(), "");
    }

    /** The items of one database. */
    private record One(
            Evaluations.Fleetwide now, Evaluation e, List<Purges.Item> items, Obstacles obstacles, StillComing coming) {

        List<Purges.Outcome> dropped() {
            Map<Chosen, Integer> rows = new HashMap<>();
            for (int k = 0; k < e.retention().size(); k++) {
                rows.put(
                        new Chosen(
                                e.history().id(e.retention().backup(k)),
                                e.retention().store(k)),
                        k);
            }
            List<Purges.Outcome> out = new ArrayList<>();
            Set<Chosen> left = new HashSet<>();
            List<Purges.Item> going = new ArrayList<>();
            for (Purges.Item i : items) {
                Chosen copy = new Chosen(i.backup(), i.store());
                String why = obstacles.shared(copy).orElseGet(() -> changed(i, rows.get(copy)));
                if (why.isEmpty()) {
                    left.add(copy);
                    going.add(i);
                } else {
                    out.add(outcome(i, why));
                }
            }
            Map<Chosen, Hazard> promised =
                    PromisedReach.keeping(now.facts(e), now.fleet().fleet(), e, left);
            going.removeIf(i -> {
                Chosen copy = new Chosen(i.backup(), i.store());
                Hazard rests = promised.get(copy);
                if (rests != null) {
                    left.remove(copy);
                    out.add(outcome(i, Obstacles.promised(rests)));
                }
                return rests != null;
            });
            PurgeProof proof = PurgeProof.of(now.facts(e), now.fleet().fleet(), e, left);
            if (!proof.holds()) {
                going.forEach(
                        i -> out.add(outcome(i, ProofWords.of(proof.flaws().get(0)))));
            }
            return out;
        }

        /** What has changed of an item; empty where it may go still. */
        private String changed(Purges.Item item, @Nullable Integer row) {
            if (row == null) {
                return "no usable copy is there any more";
            }
            if (e.history().landedMs(e.retention().copy(row)) != item.landed().toEpochMilli()) {
                return "another copy landed in its place";
            }
            return e.retention().verdict(row) != Verdict.NEEDED
                    ? coming.keeps(e.retention().backup(row))
                            .map(ProofWords::follows)
                            .orElse("")
                    : "it is needed again: "
                            + e.retention().reasons(row).stream()
                                    .map(Reasons::named)
                                    .distinct()
                                    .collect(Collectors.joining(", "));
        }
    }

    /** How many approvals versions of policies ask for, where they say, by id and version parted by a blank. */
    Map<String, Integer> approvalsByPolicy() {
        Map<String, Integer> out = new HashMap<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("policy")) {
                var document = PurgeChoices.JSON.readTree(text);
                if (document.has("purgeApprovals")) {
                    out.put(
                            document.path("id").asText() + " "
                                    + document.path("version").asInt(1),
                            document.path("purgeApprovals").asInt(1));
                }
            }
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw new IllegalStateException("A policy kept here is not JSON", e);
        }
        return out;
    }
}
