package firth.exchange;

import firth.core.evaluation.Evaluation;
import firth.core.findings.DemandFindings;
import firth.core.findings.DrillFindings;
import firth.core.findings.Finding;
import firth.core.findings.Findings;
import firth.core.findings.HeldComponents;
import firth.core.findings.PathFindings;
import firth.core.findings.SharedPlace;
import firth.core.findings.TakingFindings;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Place;
import firth.core.model.PolicyVersion;
import firth.core.model.Traits;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What is wrong by what backups say of themselves beyond what they are judged by. */
public final class ToldFindings {

    private ToldFindings() {}

    /** The backups of a database, its standbys' among them. */
    public interface Backups {
        /** Of each kind the one that ended last, or of logs and configurations began last, by a moment. */
        Collection<Backup> newestOfKinds(Instant by);

        /** The places at which a backup of the database and another are both said to lie at a moment. */
        List<SharedPlace> shared(Instant at);

        /** What was said of one; nothing where it is not known. */
        Traits told(String backup);
    }

    /**
     * Everything wrong with the evaluation's database by itself, in order.
     *
     * @param facts those the evaluation is of
     * @param drills of its database
     */
    public static List<Finding> all(
            Evaluation e, DatabaseFacts facts, Fleet fleet, Backups backups, Collection<Drill> drills) {
        return Stream.concat(Findings.of(e, facts, fleet).stream(), of(e, backups, drills).stream())
                .sorted(Findings.ORDER)
                .toList();
    }

    /** What is wrong with the evaluation's database; nothing where it is no longer looked after. */
    static List<Finding> of(Evaluation e, Backups backups, Collection<Drill> drills) {
        if (!e.database().isServedAt(e.asOf())) {
            return List.of();
        }
        List<Finding> out = new ArrayList<>();
        boolean demanded = e.version()
                .filter(PolicyVersion::enabled)
                .filter(v -> !v.demands().none())
                .isPresent();
        boolean limited =
                e.version().filter(v -> !v.taking().limits().isEmpty()).isPresent();
        if (demanded || limited) {
            Collection<Backup> newest = backups.newestOfKinds(e.asOf());
            out.addAll(DemandFindings.of(
                    e,
                    newest.stream()
                            .map(b -> new DemandFindings.Described(b, Told.of(b)))
                            .toList()));
            out.addAll(TakingFindings.tooFast(e, Pacing.of(e, newest)));
        }
        HeldComponents.nowhere(e, HeldComponents.of(e, backups::told)).ifPresent(out::add);
        out.addAll(PathFindings.overwritten(e, backups.shared(e.asOf())));
        out.addAll(DrillFindings.of(e, drills));
        return out;
    }

    /** The copies of a backup that are there at a moment and have a path. */
    public static Stream<SharedPlace.Lying> lying(Backup b, Instant at) {
        return b.copies().stream()
                .filter(c -> c.isThereAt(at))
                .flatMap(c -> Told.path(c).stream()
                        .map(p -> new SharedPlace.Lying(
                                Place.of(c.store(), p), b.id(), b.database(), b.kind(), b.run(), c.landed())));
    }

    /**
     * Backups held in memory.
     *
     * @param shared the places at which one of them and another, of whatever database, are both said to lie
     */
    public static Backups in(Collection<Backup> all, List<SharedPlace> shared) {
        Map<String, Backup> byId = all.stream().collect(Collectors.toMap(Backup::id, Function.identity()));
        return new Backups() {
            @Override
            public Collection<Backup> newestOfKinds(Instant by) {
                Map<Kind, Backup> newest = new EnumMap<>(Kind.class);
                all.stream()
                        .filter(b -> !b.ended().isAfter(by))
                        .forEach(b ->
                                newest.merge(b.kind(), b, (a, c) -> a.ended().isAfter(c.ended()) ? a : c));
                return newest.values();
            }

            @Override
            public List<SharedPlace> shared(Instant at) {
                return shared;
            }

            @Override
            public Traits told(String backup) {
                return Optional.ofNullable(byId.get(backup)).map(Told::of).orElse(Traits.NONE);
            }
        };
    }
}
