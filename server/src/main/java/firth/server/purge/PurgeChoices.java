package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.model.Database;
import firth.core.purge.PurgeProof;
import firth.exchange.Json;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.HeldPart;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.platform.FactsHolder;
import firth.wording.ProofWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** What may be deleted now, with the proof that deleting it harms nothing promised. */
@ApplicationScoped
class PurgeChoices {

    static final ObjectMapper JSON = Json.MAPPER
            .copy()
            .registerModule(new JavaTimeModule())
            .disable(com.fasterxml.jackson.databind.SerializationFeature.WRITE_DATES_AS_TIMESTAMPS);

    private final Evaluations evaluations;
    private final Summaries summaries;
    private final HeldPart held;
    private final Lookout lookout;
    private final FactsHolder facts;

    PurgeChoices(Evaluations evaluations, Summaries summaries, HeldPart held, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.summaries = summaries;
        this.held = held;
        this.lookout = lookout;
        this.facts = facts;
    }

    /** The store in which most is obsolete; empty where nothing is anywhere. */
    Optional<String> fullest() {
        return HeldPart.byStore(held().each(), HeldPart.Held::obsolete).entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey);
    }

    /** What lies where now. */
    Parts<Map<String, HeldPart.Held>> held() {
        return summaries.all(lookout.viewNow(), held);
    }

    /** A database with what may go of it, and the proof for what is chosen. */
    record DatabaseChoice(Evaluation e, Candidates candidates, PurgeProof proof) {}

    /** What is chosen of the fleet. */
    record FleetChoice(Evaluations.Fleetwide all, Instant asOf, List<DatabaseChoice> parts, String proof) {}

    /** By the clock, the rules and the facts of this moment. Databases all of whose copies there are asked for are not looked at. */
    FleetChoice choose(Optional<String> store, Set<String> leftOut) {
        Parts<Map<String, HeldPart.Held>> all = held();
        Set<String> spare = new HashSet<>();
        for (int i = 0; i < all.each().size(); i++) {
            boolean any = all.each().get(i).entrySet().stream()
                    .anyMatch(h -> h.getValue().spare() > 0
                            && store.filter(s -> !s.equals(h.getKey())).isEmpty());
            if (any) {
                spare.add(all.databases().get(i).id());
            }
        }
        return choose(d -> spare.contains(d.id()), store, leftOut, lookout.present());
    }

    /** As of the moment of a view, by what is known now. */
    FleetChoice choose(Optional<String> store, Set<String> leftOut, Lookout.View view) {
        return choose(d -> true, store, leftOut, view);
    }

    private FleetChoice choose(
            Predicate<Database> which, Optional<String> store, Set<String> leftOut, Lookout.View view) {
        Evaluations.Fleetwide all = evaluations.once(which, view);
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
