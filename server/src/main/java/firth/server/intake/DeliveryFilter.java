package firth.server.intake;

import firth.core.history.Catalog;
import firth.core.model.Accept;
import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.model.FleetRecord;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Mapping;
import firth.core.model.Note;
import firth.core.model.Order;
import firth.core.model.Probe;
import firth.core.model.Restore;
import firth.core.model.Run;
import firth.core.model.Sighting;
import firth.exchange.BadField;
import firth.exchange.FleetFileReader;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Snapshot;
import firth.store.Turned;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Lets from a delivery through what its bringer may say (docs/people.md); the other lines are rejected one by one. */
@ApplicationScoped
public class DeliveryFilter {

    private static final List<String> HISTORY = List.of(Roles.OPERATOR, Roles.RUNNER);
    private static final List<String> BORNE = List.of(Roles.OPERATOR);
    private static final List<String> HELD = List.of(Roles.KEEPER);
    private static final List<String> STANDING = List.of(Roles.PLANNER);

    private static final Map<Class<? extends FleetRecord>, List<String>> BY_TYPE = Map.of(
            Probe.class, HISTORY,
            Drill.class, HISTORY,
            Sighting.class, HISTORY,
            Accept.class, BORNE,
            Note.class, BORNE,
            Order.class, BORNE,
            Mapping.class, BORNE,
            Restore.class, BORNE,
            Hold.class, HELD);

    private final Who who;
    private final FactsHolder facts;
    private final Evaluations evaluations;

    private final Lookout lookout;

    DeliveryFilter(Who who, FactsHolder facts, Evaluations evaluations, Lookout lookout) {
        this.lookout = lookout;
        this.who = who;
        this.facts = facts;
        this.evaluations = evaluations;
    }

    /** The catalog as whoever asks may write into it, and what they said of known records that would turn these. */
    record Passed(Catalog catalog, List<Turned.Turn> turned) {}

    /**
     * The catalog as whoever asks may write into it.
     *
     * @param turning whether they say once more that known records may become ones of another database, kind or lineage; a program's
     *     never may
     */
    Passed of(Catalog catalog, boolean turning) {
        List<Turned.Turn> turned = new ArrayList<>();
        return new Passed(new Passing(catalog, turning && !who.isProgram(), turned), turned);
    }

    /** What a program may speak of: one host, store or database. */
    private record Place(String name, Optional<String> store, Set<String> databases) {}

    private Optional<Place> place() {
        if (!who.isProgram()) {
            return Optional.empty();
        }
        String bound = who.place()
                .orElseThrow(() -> Refused.notYours(
                        "This token is bound to nothing, so it can report nothing.",
                        "Make one that is bound to a host, a store or a database."));
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            if (bound.startsWith(Who.DATABASE)) {
                return Optional.of(new Place(bound, Optional.empty(), Set.of(bound.substring(Who.DATABASE.length()))));
            }
            if (who.has(Roles.AGENT)) {
                return Optional.of(new Place(bound, Optional.of(bound), Set.of()));
            }
            return Optional.of(new Place(
                    bound,
                    Optional.empty(),
                    fleet.databases().values().stream()
                            .filter(d ->
                                    d.particulars().host().filter(bound::equals).isPresent())
                            .map(Database::id)
                            .collect(Collectors.toSet())));
        }
    }

    /** Lets through what may be said, line by line. */
    private final class Passing implements Catalog {
        private final Catalog catalog;
        private final boolean turning;
        private final List<Turned.Turn> turned;
        private final Set<String> roles = who.roles();
        private final Optional<Place> place = place();
        private final String by = who.id();

        Passing(Catalog catalog, boolean turning, List<Turned.Turn> turned) {
            this.catalog = catalog;
            this.turning = turning;
            this.turned = turned;
        }

        @Override
        public Change put(FleetRecord record, String document) {
            demand(BY_TYPE.getOrDefault(record.getClass(), STANDING));
            demandOwn(record);
            if (place.isPresent() && BY_TYPE.get(record.getClass()) == HISTORY) {
                known(record).ifPresent(this::demandOwn);
            }
            return catalog.put(record, document);
        }

        private void demandOwn(FleetRecord record) {
            if (record instanceof Probe p) {
                demandOwn(p.database());
            } else if (record instanceof Drill d) {
                demandOwn(d.database());
            } else if (record instanceof Sighting s
                    && place.filter(p -> !s.host().equals(Optional.of(p.name))).isPresent()) {
                throw new BadField("host", "is not " + place.get().name + ", the only one this token may report on");
            }
        }

        @Override
        public Change put(Run run, Replacing replacing) {
            demand(HISTORY);
            demandOwn(run.database());
            return catalog.put(run, new Replacing() {
                @Override
                public void check(Run known, Run said) {
                    demandOwn(known.database());
                    String record = "run " + said.id();
                    turn(record, known.database(), "database", known.database(), said.database());
                    turn(record, known.database(), known.kind(), said.kind());
                }
            });
        }

        @Override
        public Change put(Backup backup, Replacing replacing) {
            demand(HISTORY);
            demandOwn(backup.database());
            return catalog.put(backup, new Replacing() {
                @Override
                public void check(Backup known, Backup said) {
                    demandOwn(known.database());
                    String record = "backup " + said.id();
                    turn(record, known.database(), "database", known.database(), said.database());
                    turn(record, known.database(), known.kind(), said.kind());
                    turn(record, known.database(), "lineage", lineage(known), lineage(said));
                }
            });
        }

        private String lineage(Backup b) {
            return b.lineage().orElseGet(() -> firstLineage(b.database()));
        }

        private void turn(String record, String of, Kind known, Kind said) {
            turn(record, of, "kind", known.word(), said.word());
        }

        /** A known record may not become one of something else unless somebody says so once more. */
        private void turn(String record, String of, String field, String known, String said) {
            if (known.equals(said)) {
                return;
            }
            turned.add(new Turned.Turn(record, lookout.now(), by, field, known, said, of, turning));
            if (!turning) {
                throw new BadField(
                        field,
                        "was " + known + " and would be " + said + ": "
                                + (who.isProgram()
                                        ? "a program does not turn what is known"
                                        : "say once more that it is to be turned (turn=yes), if two facts do not share"
                                                + " an id by mistake"));
            }
        }

        private void demand(List<String> needed) {
            if (needed.stream().noneMatch(roles::contains)) {
                throw new BadField("type", "asks for the role " + String.join(" or ", needed) + "; the rest was taken");
            }
        }

        private void demandOwn(String database) {
            if (place.filter(p -> !p.databases.contains(database)).isPresent()) {
                throw new BadField(
                        "database", "is not of " + place.get().name + ", the only one this token may report on");
            }
        }
    }

    private Optional<FleetRecord> known(FleetRecord record) {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.document(record.type(), record.id()).map(FleetFileReader::recordOf);
        }
    }

    private String firstLineage(String database) {
        try (Snapshot snapshot = facts.store().read()) {
            return evaluations
                    .fleet(snapshot)
                    .database(database)
                    .map(d -> d.lineages().get(0).id())
                    .orElse(Lineage.FIRST.id());
        }
    }
}
