package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.record.Deed;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Computes cover anew once all of a list was carried out, and holds it against what was proved. */
@ApplicationScoped
class CoverAfterPurge {

    /** Times are counted in milliseconds. */
    private static final double SAME = 0.001;

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;

    CoverAfterPurge(Evaluations evaluations, FactsHolder facts, Lookout lookout) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
    }

    static List<PurgeView.ProofView> proofs(Purges.Purge purge) {
        try {
            return PurgeChoices.JSON.readValue(purge.proof(), new TypeReference<List<PurgeView.ProofView>>() {});
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("the proof of " + purge.id() + " is not JSON", e);
        }
    }

    static Optional<PurgeList.After> after(Purges.Purge purge) {
        return purge.after().map(text -> {
            try {
                return PurgeChoices.JSON.readValue(text, PurgeList.After.class);
            } catch (JsonProcessingException e) {
                throw new IllegalStateException("what was found after " + purge.id() + " is not JSON", e);
            }
        });
    }

    /** Ends a list of which no item is open any more. */
    void finishIfOver(String id) {
        Purges purges = facts.store().purges();
        Purges.Purge purge = purges.find(id).orElseThrow();
        Map<ItemState, Integer> tally = purges.tally(id);
        if (purge.state() != PurgeState.RUNNING || tally.keySet().stream().anyMatch(ItemState::isOpen)) {
            return;
        }
        PurgeList.After after = compare(proofs(purge));
        Map<String, Integer> outcomes = new TreeMap<>();
        tally.forEach((state, items) -> outcomes.put(state.word(), items));
        Deed.Told told = new Deed.Told(
                Who.FIRTH,
                "purge-done",
                id,
                PurgeChoices.json(Map.of("hash", purge.hash(), "outcomes", outcomes, "coverEqual", after.equal())));
        purges.change("The end of the purge could not be kept", steps -> {
            // Another may have ended it meanwhile: what was found then is as good.
            steps.find(id)
                    .filter(p -> p.state() == PurgeState.RUNNING && steps.isOver(id))
                    .ifPresent(p -> steps.finish(p, PurgeChoices.json(after), told, lookout.now()));
        });
    }

    /** Of each database what could be restored from the start of reach to the newest moment then, and what of that can be now. */
    private PurgeList.After compare(List<PurgeView.ProofView> proofs) {
        List<PurgeList.CoverAfter> out = new ArrayList<>();
        Set<String> databases =
                proofs.stream().map(PurgeView.ProofView::database).collect(Collectors.toSet());
        Evaluations.Fleetwide now = evaluations.once(d -> databases.contains(d.id()), lookout.present());
        for (PurgeView.ProofView proof : proofs) {
            now.answers().stream()
                    .filter(e -> e.database().id().equals(proof.database()))
                    .findFirst()
                    .ifPresent(e -> out.add(cover(proof, e)));
        }
        return new PurgeList.After(lookout.now(), out.stream().allMatch(PurgeList.CoverAfter::equal), out);
    }

    private static PurgeList.CoverAfter cover(PurgeView.ProofView proof, Evaluation e) {
        List<Piece> restorable = e.mishap().restorable();
        Instant newest =
                restorable.stream().map(Piece::to).max(Instant::compareTo).orElse(null);
        double seconds = proof.since() == null || proof.point() == null
                ? 0
                : PurgeChoices.seconds(restorable.stream()
                        .filter(p ->
                                !p.to().isBefore(proof.since()) && !p.from().isAfter(proof.point()))
                        .map(p -> new Piece(
                                p.lineage(),
                                p.from().isBefore(proof.since()) ? proof.since() : p.from(),
                                p.to().isAfter(proof.point()) ? proof.point() : p.to()))
                        .toList());
        double before = proof.since() == null || proof.point() == null ? 0 : proof.coveredSeconds();
        boolean reaches = proof.point() == null || newest != null && !newest.isBefore(proof.point());
        return new PurgeList.CoverAfter(
                proof.database(),
                proof.since(),
                before,
                seconds,
                proof.point(),
                newest,
                reaches && Math.abs(before - seconds) < SAME);
    }
}
