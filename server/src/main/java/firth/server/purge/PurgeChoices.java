package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.purge.PurgeProof;
import firth.core.retention.Verdict;
import firth.exchange.Json;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
import firth.server.platform.FactsHolder;
import firth.wording.ProofWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** What may be deleted now, with the proof that deleting it harms nothing promised. */
@ApplicationScoped
class PurgeChoices {

    static final ObjectMapper JSON = Json.MAPPER
            .copy()
            .registerModule(new JavaTimeModule())
            .disable(com.fasterxml.jackson.databind.SerializationFeature.WRITE_DATES_AS_TIMESTAMPS);

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    PurgeChoices(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /** The store in which most is obsolete; empty where nothing is anywhere. */
    Optional<String> fullest() {
        return obsolete(evaluations.once(d -> true, lookout.present())).entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey);
    }

    /** By store, the bytes no rule needs. */
    static Map<String, Double> obsolete(Evaluations.Fleetwide all) {
        return RetainedBytes.byStore(all.answers(), v -> v != Verdict.NEEDED);
    }

    /** A database with what may go of it, and the proof for what is chosen. */
    record DatabaseChoice(Evaluation e, Candidates candidates, PurgeProof proof) {}

    /** What is chosen of the fleet. */
    record FleetChoice(Evaluations.Fleetwide all, Instant asOf, List<DatabaseChoice> parts, String proof) {}

    /** By the clock, the rules and the facts of this moment. */
    FleetChoice choose(Optional<String> store, Set<String> leftOut) {
        return choose(store, leftOut, lookout.present());
    }

    /** As of the moment of a view, by what is known now. */
    FleetChoice choose(Optional<String> store, Set<String> leftOut, Lookout.View view) {
        Evaluations.Fleetwide all = evaluations.once(d -> true, view);
        Obstacles obstacles = Obstacles.at(facts.store(), view.asOf());
        List<DatabaseChoice> parts = all.answers().parallelStream()
                .flatMap(e -> {
                    Candidates c = new Candidates(all, e, store, obstacles);
                    return c.isEmpty()
                            ? Stream.empty()
                            : Stream.of(new DatabaseChoice(
                                    e,
                                    c,
                                    PurgeProof.of(all.facts(e), all.fleet().fleet(), e, c.chosen(leftOut))));
                })
                .toList();
        return new FleetChoice(all, view.asOf(), parts, text(parts));
    }

    /** The proofs as they are kept with the list and sealed with it. */
    private static String text(List<DatabaseChoice> parts) {
        List<PurgeView.ProofView> views = new ArrayList<>();
        parts.stream().filter(p -> p.proof.copies() > 0).forEach(p -> views.add(view(p)));
        return json(views);
    }

    static String json(Object value) {
        try {
            return JSON.writeValueAsString(value);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a proof cannot be written as JSON", e);
        }
    }

    static PurgeView.ProofView view(DatabaseChoice part) {
        PurgeProof p = part.proof;
        return new PurgeView.ProofView(
                p.database(),
                part.e.database().name(),
                p.copies(),
                p.bytes(),
                p.pointAfter().orElse(null),
                p.reachFrom().orElse(null),
                p.after().size(),
                seconds(p.after()),
                p.whole(),
                p.hazards().stream()
                        .map(h -> new PurgeView.HazardProof(
                                h.hazard().field(), h.since(), h.pieces(), seconds(h.covered())))
                        .toList(),
                p.flaws().stream().map(ProofWords::of).toList());
    }

    private static double seconds(Duration d) {
        return d.toMillis() / 1000.0;
    }

    static double seconds(List<Piece> pieces) {
        return pieces.stream()
                        .map(p -> Duration.between(p.from(), p.to()))
                        .mapToLong(Duration::toMillis)
                        .sum()
                / 1000.0;
    }
}
