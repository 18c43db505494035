package firth.core.purge;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Losses;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.retention.Verdict;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The reach a policy promises, held under each hazard it has an objective for, from the copies of all roles together
 * (docs/semantics.md, "Purging must be safe"). No retention rule need speak of it: a role may retain less than is promised.
 */
public final class PromisedReach {

    /** More rounds than this, and everything that survives the hazard stays. */
    private static final int ROUNDS = 24;

    private final DatabaseFacts facts;
    private final Fleet fleet;
    private final Evaluation now;
    private final long nowMs;
    private final Instant since;

    /** What was left out last, and what is left without it: mostly the same under each hazard. */
    private BitSet gone = new BitSet();

    private History left;

    private PromisedReach(DatabaseFacts facts, Fleet fleet, Evaluation now, Instant since) {
        this.facts = facts;
        this.fleet = fleet;
        this.now = now;
        this.nowMs = now.asOf().toEpochMilli();
        this.since = since;
        this.left = facts.history();
    }

    /** When the promised reach begins; empty where none is promised. */
    static Optional<Instant> since(DatabaseFacts facts, Evaluation now) {
        return now.version()
                .filter(PolicyVersion::enabled)
                .flatMap(v -> v.objective().reach())
                .map(reach -> Instant.ofEpochMilli(
                        facts.database().clock().before(now.asOf().toEpochMilli(), reach.toMillis())));
    }

    /** The hazards for which an objective is in force. */
    static List<Hazard> promised(Evaluation now) {
        return List.of(Hazard.values()).stream()
                .filter(h -> now.under(h).objective().isPresent())
                .toList();
    }

    /**
     * Of copies that no rule needs those without which a moment within promised reach could no longer be restored after a hazard an
     * objective is promised for, each with the first such hazard. Deleting all the others leaves every such moment.
     *
     * @param now the evaluation of these facts at the moment of the purge
     */
    public static Map<Chosen, Hazard> keeping(
            DatabaseFacts facts, Fleet fleet, Evaluation now, java.util.Set<Chosen> chosen) {
        Map<Chosen, Hazard> out = new HashMap<>();
        List<Hazard> hazards = promised(now);
        Optional<Instant> since = since(facts, now);
        if (since.isPresent() && !chosen.isEmpty()) {
            PromisedReach reach = new PromisedReach(facts, fleet, now, since.get());
            BitSet going = reach.rows(chosen);
            for (Hazard hazard : hazards) {
                reach.keep(hazard, going, out);
            }
        }
        return out;
    }

    private BitSet rows(java.util.Set<Chosen> chosen) {
        History history = facts.history();
        BitSet out = new BitSet();
        for (int k = 0; k < now.retention().size(); k++) {
            int i = now.retention().backup(k);
            if (now.retention().verdict(k) != Verdict.NEEDED
                    && chosen.contains(new Chosen(history.id(i), now.retention().store(k)))) {
                out.set(now.retention().copy(k));
            }
        }
        return out;
    }

    /** Takes out of what goes what a hazard's promise rests on. */
    private void keep(Hazard hazard, BitSet going, Map<Chosen, Hazard> out) {
        Availability availability = new Availability(facts.database(), fleet, facts.history(), nowMs, Losses.NONE);
        HazardCover cover =
                HazardCover.now(facts.history(), new Lines(facts.history(), availability), availability, hazard);
        List<Piece> before = PurgeProof.since(cover.restorable(), since);
        for (int round = 0; ; round++) {
            List<Piece> missing = PurgeProof.missing(before, left(going, hazard));
            if (missing.isEmpty()) {
                return;
            }
            Needs needs = new Needs(hazard, availability, cover, going, out);
            missing.forEach(needs::of);
            if (!needs.found || round == ROUNDS) {
                needs.everything();
                return;
            }
        }
    }

    private List<Piece> left(BitSet going, Hazard hazard) {
        if (!going.equals(gone)) {
            gone = (BitSet) going.clone();
            left = PurgeProof.without(facts, gone);
        }
        return PurgeProof.since(
                PurgeProof.cover(facts.database(), fleet, left, nowMs, hazard).restorable(), since);
    }

    /** What moments that would be missing rest on. */
    private final class Needs {
        private final History history = facts.history();
        private final Hazard hazard;
        private final Availability availability;
        private final HazardCover cover;
        private final BitSet going;
        private final Map<Chosen, Hazard> out;
        private boolean found;

        Needs(Hazard hazard, Availability availability, HazardCover cover, BitSet going, Map<Chosen, Hazard> out) {
            this.hazard = hazard;
            this.availability = availability;
            this.cover = cover;
            this.going = going;
            this.out = out;
        }

        /** Keeps the newest way to the beginning of a stretch, and on to its end. */
        void of(Piece missing) {
            int best = -1;
            Piece reaches = null;
            for (int i : history.others()) {
                if (history.kind(i).isData()
                        && (best < 0 || history.consistentAtMs(i) > history.consistentAtMs(best))) {
                    Optional<Piece> own = cover.restoredBy(i).stream()
                            .filter(p -> p.lineage().equals(missing.lineage())
                                    && !p.from().isAfter(missing.from())
                                    && !p.to().isBefore(missing.from()))
                            .findFirst();
                    if (own.isPresent()) {
                        best = i;
                        reaches = own.get();
                    }
                }
            }
            if (reaches != null) {
                way(best, missing.to().isBefore(reaches.to()) ? missing.to() : reaches.to());
            }
        }

        private void way(int tip, Instant until) {
            List<Integer> chain = new ArrayList<>();
            for (int at = tip; at >= 0; at = availability.needsParent(at) ? history.parent(at) : -1) {
                chain.add(at);
            }
            chain.forEach(this::keep);
            for (int i = 0; i < history.size(); i++) {
                if (history.kind(i) == Kind.LOG && history.fromTimeMs(i) <= until.toEpochMilli() && leadsOn(chain, i)) {
                    keep(i);
                }
            }
        }

        /** Whether a log lies beyond the start of a backup of a chain, or in another lineage, which it may lead into. */
        private boolean leadsOn(List<Integer> chain, int log) {
            return chain.stream()
                    .anyMatch(b -> history.lineage(b) != history.lineage(log)
                            || history.logTo(log) >= history.start(b, history.stream(log)));
        }

        private void keep(int i) {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (going.get(c) && availability.copyIsLeft(i, c, hazard)) {
                    going.clear(c);
                    out.putIfAbsent(new Chosen(history.id(i), history.store(c)), hazard);
                    found = true;
                }
            }
        }

        void everything() {
            for (int i = 0; i < history.size(); i++) {
                keep(i);
            }
        }
    }
}
