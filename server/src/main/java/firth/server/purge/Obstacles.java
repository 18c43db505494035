package firth.server.purge;

import firth.core.findings.SharedPlace;
import firth.core.model.Hazard;
import firth.core.purge.PurgeProof.Chosen;
import firth.store.FactStore;
import firth.store.Purges;
import firth.store.Snapshot;
import firth.wording.Wording;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What keeps copies from being purged besides the rules: a place at which another backup lies as well, or within which or around which
 * one does, and a list that has the copy already.
 *
 * @param shared by copy, the others at its place
 * @param nested by copy, one whose place is within its own, or around it
 * @param lists by copy, the list it is on
 */
record Obstacles(Map<Chosen, String> shared, Map<Chosen, String> nested, Map<Purges.Listed, String> lists) {

    /** As it is at a moment. */
    static Obstacles at(FactStore store, Instant moment) {
        return of(store, moment, store.purges().listed());
    }

    /** The same for those that are on a list already. */
    static Obstacles ofListed(FactStore store, Instant moment) {
        return of(store, moment, Map.of());
    }

    private static Obstacles of(FactStore store, Instant moment, Map<Purges.Listed, String> lists) {
        Map<Chosen, String> nested = new HashMap<>();
        try (Snapshot snapshot = store.read()) {
            snapshot.nested(moment).forEach(n -> nested.putIfAbsent(new Chosen(n.backup(), n.store()), n.other()));
        }
        return new Obstacles(shared(store, moment), nested, lists);
    }

    private static Map<Chosen, String> shared(FactStore store, Instant moment) {
        Map<Chosen, String> out = new HashMap<>();
        try (Snapshot snapshot = store.read()) {
            for (SharedPlace place : snapshot.sharedPlaces(moment)) {
                for (SharedPlace.Lying own : place.copies()) {
                    out.put(
                            new Chosen(own.backup(), own.place().store()),
                            place.copies().stream()
                                    .map(SharedPlace.Lying::backup)
                                    .filter(b -> !b.equals(own.backup()))
                                    .distinct()
                                    .collect(Collectors.joining(", ")));
                }
            }
        }
        return out;
    }

    /** Why a copy stays whose place another backup has as well. */
    Optional<String> shared(Chosen copy) {
        return Optional.ofNullable(shared.get(copy))
                .map(others -> others + " is said to lie at the same place: deleting one would delete the other")
                .or(
                        () -> Optional.ofNullable(nested.get(copy))
                                .map(
                                        other -> other
                                                + " is said to lie within its directory, or it within that one's: deleting one would damage the other"));
    }

    /** Why a copy stays that another list may delete. */
    Optional<String> listed(Chosen copy) {
        return Optional.ofNullable(lists.get(new Purges.Listed(copy.backup(), copy.store())))
                .map(list -> "it is on the list " + list + " already");
    }

    /** Why a copy stays that no rule needs and a promise does. */
    static String promised(Hazard hazard) {
        return "the promised reach after " + Wording.disaster(hazard) + " rests on it";
    }
}
