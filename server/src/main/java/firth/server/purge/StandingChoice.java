package firth.server.purge;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.purge.PurgeProof;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.purge.StandingPurge;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.restore.DrillTimes;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What goes by a standing purge. */
@ApplicationScoped
class StandingChoice {

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    StandingChoice(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /** A copy that may go, as a rule and as a list sees it. */
    record Free(StandingPurge.Going going, PurgeChoices.Going item) {}

    /**
     * Some databases at a moment.
     *
     * @param free what people could ask for to be deleted, without what the newest drill that proved something read
     * @param obsolete what no rule needed
     */
    record At(List<Free> free, Map<String, Set<Chosen>> obsolete) {

        /** What may go by a rule: it is free, and was obsolete at an earlier moment already. */
        List<Free> longObsolete(At before) {
            return free.stream()
                    .filter(f -> before.obsolete
                            .getOrDefault(f.going.database(), Set.of())
                            .contains(f.going.copy()))
                    .toList();
        }
    }

    private record Looked(String database, List<Free> free, Set<Chosen> obsolete) {}

    /**
     * The databases at a moment, by what is known now of places that several backups share.
     *
     * @param told whether it is to be said why no rule needs a copy: of tens of thousands it takes long
     */
    At at(Set<String> databases, Instant moment, Obstacles obstacles, boolean told) {
        List<Looked> looked = evaluations.walk(
                d -> databases.contains(d.id()), lookout.at(moment), one -> looked(one, obstacles, told));
        return new At(
                looked.stream().flatMap(l -> l.free.stream()).toList(),
                looked.stream().collect(Collectors.toMap(Looked::database, Looked::obsolete)));
    }

    private static Looked looked(Answered one, Obstacles obstacles, boolean told) {
        Evaluation e = one.answer();
        Set<Chosen> restored = restored(one.now(), e, one.facts());
        Candidates candidates = new Candidates(one.alone(), e, Optional.empty(), obstacles);
        return new Looked(
                one.id(),
                candidates.rows(Set.of()).stream()
                        .map(k ->
                                new Free(StandingPurge.going(e, k, candidates.bytes(k)), item(e, k, candidates, told)))
                        .filter(f -> !restored.contains(f.going.copy()))
                        .toList(),
                StandingPurge.obsolete(e));
    }

    private static PurgeChoices.Going item(Evaluation e, int k, Candidates candidates, boolean told) {
        int backup = e.retention().backup(k);
        return new PurgeChoices.Going(
                e.history().id(backup),
                e.history().kind(backup).word(),
                e.retention().store(k),
                candidates.bytes(k),
                Instant.ofEpochMilli(e.history().landedMs(e.retention().copy(k))),
                told ? candidates.why(k) : "");
    }

    /** The copies that were read by the newest way back that was really restored. */
    private static Set<Chosen> restored(FleetNow now, Evaluation e, DatabaseFacts known) {
        Fleet fleet = now.fleet();
        return now.drills(e.database().id()).stream()
                .filter(d ->
                        d.proves() && d.at().filter(at -> !at.isAfter(e.asOf())).isPresent())
                .max(Comparator.comparing((Drill d) -> d.at().orElseThrow()))
                .flatMap(d -> DrillTimes.plan(d, known, fleet))
                .map(way -> way.steps().stream()
                        .map(s -> new Chosen(s.backup(), s.store()))
                        .collect(Collectors.toSet()))
                .orElse(Set.of());
    }

    /** What goes tonight by a rule, proved as any list is; what of a database cannot be proved stays. */
    PurgeChoices.FleetChoice tonight(StandingPurge rule, Set<String> databases, Instant now) {
        Obstacles obstacles = Obstacles.at(facts.store(), now);
        At then = at(databases, now.minus(rule.obsoleteFor()), obstacles, false);
        At free = at(databases, now, obstacles, true);
        Map<StandingPurge.Going, PurgeChoices.Going> items = new HashMap<>();
        free.longObsolete(then).forEach(f -> items.put(f.going, f.item));
        Map<String, List<StandingPurge.Going>> going = byDatabase(rule.tonight(items.keySet()));
        List<PurgeChoices.DatabaseChoice> parts = new ArrayList<>();
        evaluations
                .walk(
                        d -> going.containsKey(d.id()),
                        lookout.at(now),
                        one -> part(one, going.getOrDefault(one.id(), List.of()), items))
                .stream()
                .filter(p -> p.proof().holds())
                .forEach(parts::add);
        return PurgeChoices.FleetChoice.of(evaluations.fleetNow(), now, parts);
    }

    static Map<String, List<StandingPurge.Going>> byDatabase(Collection<StandingPurge.Going> all) {
        return all.stream().collect(Collectors.groupingBy(StandingPurge.Going::database));
    }

    private static PurgeChoices.DatabaseChoice part(
            Answered one, List<StandingPurge.Going> own, Map<StandingPurge.Going, PurgeChoices.Going> items) {
        return new PurgeChoices.DatabaseChoice(
                one.answer().database(),
                one.answer().version(),
                Set.of(),
                List.of(),
                own.stream().map(items::get).toList(),
                List.of(),
                proof(one, own));
    }

    /** That the copies may go together. */
    static PurgeProof proof(Answered one, List<StandingPurge.Going> own) {
        return PurgeProof.of(
                one.facts(),
                one.fleet(),
                one.answer(),
                own.stream().map(StandingPurge.Going::copy).collect(Collectors.toSet()));
    }
}
