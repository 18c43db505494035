package firth.server.evaluation;

import firth.core.model.Database;
import firth.store.Snapshot;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;

/**
 * Every database but standbys, which are part of their primaries, in the order of their ids, with what its answers rest on.
 *
 * @param changes the number of the view of the file it is of, which tells it from every other
 * @param places where each database stands among them, by id
 */
record FleetStanding(long changes, FleetNow fleet, List<One> databases, Map<String, Integer> places) {

    /**
     * What an answer rests on besides the moment.
     *
     * @param change how often the facts of the database and its standbys changed
     * @param rules tells the records it rests on from others
     */
    record Rests(long change, String rules) {}

    /**
     * A database, and what its answers rest on now.
     *
     * @param members the database with its standbys
     */
    record One(Database database, List<String> members, Rests rests) {}

    /** As a view of the file has it, by the records that are not history of that same view; nothing is read of histories. */
    static FleetStanding of(Snapshot snapshot, FleetNow fleet) {
        Map<String, Long> changes = snapshot.changes();
        List<One> databases = fleet.databases().values().stream()
                .filter(d -> !fleet.standbys().isStandby(d.id()))
                .map(d -> {
                    List<String> members = fleet.standbys().membersOf(d.id());
                    long change = members.stream()
                            .mapToLong(m -> changes.getOrDefault(m, 0L))
                            .sum();
                    return new One(d, members, new Rests(change, fleet.rules(d)));
                })
                .toList();
        Map<String, Integer> places = new HashMap<>();
        for (One one : databases) {
            places.put(one.database.id(), places.size());
        }
        return new FleetStanding(snapshot.changeCount(), fleet, databases, places);
    }

    /** The same as a later view of the file has it, where facts alone have changed since, as when a log lands: only they are looked at. */
    FleetStanding after(Snapshot snapshot) {
        List<One> now = new ArrayList<>(databases);
        for (String changed : snapshot.changedSince(changes)) {
            Integer place = places.get(fleet.standbys().primaryOf(changed));
            if (place != null) {
                One one = now.get(place);
                long change = snapshot.changesOf(one.members);
                now.set(place, new One(one.database, one.members, new Rests(change, one.rests.rules)));
            }
        }
        return new FleetStanding(snapshot.changeCount(), fleet, Collections.unmodifiableList(now), places);
    }

    /** A database by id; empty for one nobody knows, and for a standby. */
    Optional<One> one(String id) {
        return Optional.ofNullable(places.get(id)).map(databases::get);
    }

    /** Those of some names, in the order of their ids; a standby's is its primary's, one nobody knows is nobody's. */
    List<One> named(Set<String> names) {
        return names.stream()
                .map(fleet.standbys()::primaryOf)
                .distinct()
                .map(places::get)
                .filter(Objects::nonNull)
                .sorted()
                .map(databases::get)
                .toList();
    }
}
