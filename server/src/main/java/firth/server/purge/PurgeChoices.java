package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.purge.PurgeProof;
import firth.exchange.Json;
import firth.server.database.DatabaseView;
import firth.server.database.Shelves;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
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
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;

/** What may be deleted now, with the proof that deleting it harms nothing promised. */
@ApplicationScoped
class PurgeChoices {

    static final ObjectMapper JSON = Json.MAPPER
            .copy()
            .registerModule(new JavaTimeModule())
            .disable(com.fasterxml.jackson.databind.SerializationFeature.WRITE_DATES_AS_TIMESTAMPS);

    /** So many databases are looked at for one list at most. */
    static final int AT_MOST = 200;

    /** Where nobody says how many, all are looked at where they are few, and else the first. */
    private static final int FEW = 20;

    private static final int FIRST = 6;

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

    /** A copy that may go. */
    record Going(String backup, String kind, String store, double bytes, Instant landed, String why) {}

    /**
     * A database with what may go of it, and the proof for what is chosen.
     *
     * @param keys the names of the lines that may be left out
     * @param going what is chosen of it
     */
    record DatabaseChoice(
            Database database,
            Optional<PolicyVersion> version,
            Set<String> keys,
            List<PurgeView.LineView> lines,
            List<Going> going,
            List<DatabaseView.Shelf> shelves,
            PurgeProof proof) {}

    /** What is chosen of the fleet. */
    record FleetChoice(FleetNow fleet, Instant asOf, List<DatabaseChoice> parts, String proof) {

        static FleetChoice of(FleetNow fleet, Instant asOf, List<DatabaseChoice> parts) {
            return new FleetChoice(fleet, asOf, parts, text(parts));
        }
    }

    /**
     * The databases looked at for one list.
     *
     * @param ids those in which most is obsolete first
     * @param others how many more have copies there that no rule asks for
     * @param otherBytes what is obsolete of theirs
     */
    record Looked(List<String> ids, int others, double otherBytes) {}

    /** What is chosen of some databases by the clock, the rules and the facts of this moment. */
    FleetChoice choose(Optional<String> store, Looked looked, Set<String> leftOut) {
        return choose(store, looked.ids, leftOut, lookout.present());
    }

    /**
     * As of the moment of a view, by what is known now. What was obsolete then and is not any more is not chosen, and so what is
     * chosen is not what was seen.
     */
    FleetChoice choose(Optional<String> store, List<String> databases, Set<String> leftOut, Lookout.View view) {
        Set<String> spare = new HashSet<>(databases);
        Obstacles obstacles = Obstacles.at(facts.store(), view.asOf());
        // At this very moment, whatever stands for a while.
        Lookout.View exact = new Lookout.View(view.asOf(), view.period());
        List<DatabaseChoice> parts =
                evaluations
                        .walk(d -> spare.contains(d.id()), exact, one -> choice(one, store, leftOut, obstacles))
                        .stream()
                        .flatMap(Optional::stream)
                        .toList();
        return FleetChoice.of(evaluations.fleetNow(), view.asOf(), parts);
    }

    /** A database with copies that no rule asks for, and what of them is obsolete. */
    private record Spare(String database, double obsolete) {}

    /**
     * Those that have copies there which no rule asks for, first those in which most is obsolete.
     *
     * @param most how many of them; empty: all where they are few, and else the first
     */
    Looked largest(Optional<String> store, OptionalInt most) {
        Parts<Map<String, HeldPart.Held>> all = held();
        List<Spare> spare = new ArrayList<>();
        for (int i = 0; i < all.each().size(); i++) {
            double obsolete = 0;
            int copies = 0;
            for (Map.Entry<String, HeldPart.Held> h : all.each().get(i).entrySet()) {
                if (store.filter(s -> !s.equals(h.getKey())).isEmpty()) {
                    obsolete += h.getValue().obsolete();
                    copies += h.getValue().spare();
                }
            }
            if (copies > 0) {
                spare.add(new Spare(all.databases().get(i).id(), obsolete));
            }
        }
        spare.sort(Comparator.comparingDouble(Spare::obsolete).reversed().thenComparing(Spare::database));
        int first = Math.min(most.orElse(spare.size() <= FEW ? FEW : FIRST), spare.size());
        return new Looked(
                spare.subList(0, first).stream().map(Spare::database).toList(),
                spare.size() - first,
                spare.subList(first, spare.size()).stream()
                        .mapToDouble(Spare::obsolete)
                        .sum());
    }

    private static Optional<DatabaseChoice> choice(
            Answered one, Optional<String> store, Set<String> leftOut, Obstacles obstacles) {
        Evaluation e = one.answer();
        Candidates c = new Candidates(one.alone(), e, store, obstacles);
        if (c.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(new DatabaseChoice(
                e.database(),
                e.version(),
                c.keys(),
                c.lines(leftOut),
                c.rows(leftOut).stream()
                        .map(k -> new Going(
                                e.history().id(e.retention().backup(k)),
                                e.history().kind(e.retention().backup(k)).word(),
                                e.retention().store(k),
                                c.bytes(k),
                                Instant.ofEpochMilli(
                                        e.history().landedMs(e.retention().copy(k))),
                                c.why(k)))
                        .toList(),
                new Shelves(one.now(), e).of(store),
                PurgeProof.of(one.facts(), one.fleet(), e, c.chosen(leftOut))));
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
                part.database.name(),
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
