package firth.server;

import firth.core.fleet.Accept;
import firth.core.fleet.Database;
import firth.core.fleet.Drill;
import firth.core.fleet.FleetRecord;
import firth.core.fleet.Hold;
import firth.core.fleet.Mapping;
import firth.core.fleet.Note;
import firth.core.fleet.Order;
import firth.core.fleet.Probe;
import firth.core.fleet.Restore;
import firth.core.fleet.Sighting;
import firth.core.history.Backup;
import firth.core.history.Catalog;
import firth.core.history.Run;
import firth.exchange.BadField;
import firth.server.people.Roles;
import firth.server.people.Who;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Lets from a delivery through what its bringer may say (docs/people.md); the other lines are rejected one by one. */
@ApplicationScoped
public class Permitted {

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

    Permitted(Who who, FactsHolder facts, Evaluations evaluations) {
        this.who = who;
        this.facts = facts;
        this.evaluations = evaluations;
    }

    /** The catalog as whoever asks may write into it. */
    Catalog of(Catalog catalog) {
        Set<String> roles = who.roles();
        Optional<Place> place = who.place().map(host -> new Place(host, onHost(host)));
        return new Catalog() {
            @Override
            public Change put(FleetRecord record, String document) {
                demand(BY_TYPE.getOrDefault(record.getClass(), STANDING));
                if (record instanceof Probe p) {
                    demandOwn(p.database());
                } else if (record instanceof Drill d) {
                    demandOwn(d.database());
                } else if (record instanceof Sighting s
                        && place.filter(p -> !s.host().equals(Optional.of(p.host)))
                                .isPresent()) {
                    throw new BadField("host", "is not " + place.get().host + ", of which alone this token may speak");
                }
                return catalog.put(record, document);
            }

            @Override
            public Change put(Run run) {
                demand(HISTORY);
                demandOwn(run.database());
                return catalog.put(run);
            }

            @Override
            public Change put(Backup backup) {
                demand(HISTORY);
                demandOwn(backup.database());
                return catalog.put(backup);
            }

            private void demand(List<String> needed) {
                if (needed.stream().noneMatch(roles::contains)) {
                    throw new BadField(
                            "type", "asks for the role " + String.join(" or ", needed) + "; the rest was taken");
                }
            }

            private void demandOwn(String database) {
                if (place.filter(p -> !p.databases.contains(database)).isPresent()) {
                    throw new BadField(
                            "database", "is not on " + place.get().host + ", of which alone this token may speak");
                }
            }
        };
    }

    /** The one host a program may speak of, with the databases there. */
    private record Place(String host, Set<String> databases) {}

    private Set<String> onHost(String host) {
        try (Snapshot snapshot = facts.store().read()) {
            return evaluations.fleet(snapshot).databases().values().stream()
                    .filter(d -> d.particulars().host().filter(host::equals).isPresent())
                    .map(Database::id)
                    .collect(Collectors.toSet());
        }
    }
}
