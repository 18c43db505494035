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
import java.util.Set;

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
            Accept.class, BORNE,
            Note.class, BORNE,
            Order.class, BORNE,
            Mapping.class, BORNE,
            Hold.class, HELD);

    private final Who who;
    private final FactsHolder facts;

    Permitted(Who who, FactsHolder facts) {
        this.who = who;
        this.facts = facts;
    }

    /** The catalog as whoever asks may write into it. */
    Catalog of(Catalog catalog) {
        Set<String> own = who.place().isPresent() ? onHost(who.place().get()) : Set.of();
        return new Catalog() {
            @Override
            public Change put(FleetRecord record, String document) {
                demand(BY_TYPE.getOrDefault(record.getClass(), STANDING));
                return catalog.put(record, document);
            }

            @Override
            public Change put(Run run) {
                demandOwn(run.database());
                return catalog.put(run);
            }

            @Override
            public Change put(Backup backup) {
                demandOwn(backup.database());
                return catalog.put(backup);
            }

            private void demandOwn(String database) {
                demand(HISTORY);
                if (who.place().isPresent() && !own.contains(database)) {
                    throw new BadField(
                            "database", "is not on " + who.place().get() + ", of which alone this token may speak");
                }
            }
        };
    }

    private void demand(List<String> roles) {
        if (roles.stream().noneMatch(who::has)) {
            throw new BadField("type", "asks for the role " + String.join(" or ", roles) + "; the rest was taken");
        }
    }

    private Set<String> onHost(String host) {
        try (Snapshot snapshot = facts.store().read()) {
            return FleetNow.read(snapshot).databases().values().stream()
                    .filter(d -> d.particulars().host().filter(host::equals).isPresent())
                    .map(Database::id)
                    .collect(java.util.stream.Collectors.toSet());
        }
    }
}
