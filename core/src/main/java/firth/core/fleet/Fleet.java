package firth.core.fleet;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The stores and policies an evaluation rests on. Immutable. */
public final class Fleet {

    private final Map<String, BackupStore> stores = new HashMap<>();
    private final Map<String, List<PolicyVersion>> policies = new HashMap<>();

    public Fleet(Collection<BackupStore> stores, Collection<PolicyVersion> versions) {
        stores.forEach(s -> this.stores.put(s.id(), s));
        versions.forEach(
                v -> policies.computeIfAbsent(v.id(), id -> new ArrayList<>()).add(v));
        policies.values()
                .forEach(list -> list.sort(
                        Comparator.comparing(PolicyVersion::effectiveFrom).thenComparing(PolicyVersion::version)));
    }

    public Optional<BackupStore> store(String id) {
        return Optional.ofNullable(stores.get(id));
    }

    public Collection<BackupStore> stores() {
        return List.copyOf(stores.values());
    }

    /** The versions of a policy by the moment they take effect; empty where the policy is not known. */
    public List<PolicyVersion> versions(String policy) {
        return policies.getOrDefault(policy, List.of());
    }

    /** The version in force at a moment of the policy then assigned, switched on or not. */
    public Optional<PolicyVersion> versionAt(Database database, Instant moment) {
        PolicyVersion found = null;
        for (PolicyVersion version : versions(database.policyAt(moment).orElse(""))) {
            if (version.effectiveFrom().isAfter(moment)) {
                break;
            }
            found = version;
        }
        return Optional.ofNullable(found);
    }

    /** Every moment at which another version may come into force for a database. */
    public List<Instant> changes(Database database) {
        List<Instant> out = new ArrayList<>();
        database.assigned().forEach(a -> out.add(a.from()));
        List<String> followed = new ArrayList<>();
        database.policy().ifPresent(followed::add);
        database.assigned().forEach(a -> a.policy().ifPresent(followed::add));
        followed.stream().distinct().forEach(p -> versions(p).forEach(v -> out.add(v.effectiveFrom())));
        return out;
    }
}
