package firth.core.model;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The stores, routes and policies an evaluation rests on. Immutable. */
public final class Fleet {

    private final Map<String, BackupStore> stores = new HashMap<>();
    private final Map<String, List<PolicyVersion>> policies = new HashMap<>();

    private final Map<String, Route> routes = new HashMap<>();

    public Fleet(Collection<BackupStore> stores, Collection<PolicyVersion> versions) {
        this(stores, versions, List.of());
    }

    public Fleet(Collection<BackupStore> stores, Collection<PolicyVersion> versions, Collection<Route> routes) {
        routes.forEach(r -> this.routes.put(r.id(), r));
        stores.forEach(s -> this.stores.put(s.id(), s));
        for (PolicyVersion v : versions) {
            if (v.withdrawn().isEmpty()) {
                policies.computeIfAbsent(v.id(), id -> new ArrayList<>()).add(v);
            }
        }
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

    /** Where a database's backups go, where that is stated. */
    public Optional<Route> route(Database database) {
        return database.particulars().route().map(routes::get);
    }

    /**
     * The same fleet in which a policy has always been as one version says: for replaying a version over a history it was
     * not in force in.
     */
    public Fleet replaying(PolicyVersion version) {
        List<PolicyVersion> versions = new ArrayList<>();
        policies.forEach((id, known) -> {
            if (!id.equals(version.id())) {
                versions.addAll(known);
            }
        });
        Instant first = versions(version.id()).stream()
                .map(PolicyVersion::effectiveFrom)
                .findFirst()
                .filter(version.effectiveFrom()::isAfter)
                .orElse(version.effectiveFrom());
        versions.add(version.from(first));
        return new Fleet(stores.values(), versions, routes.values());
    }

    /** The policies of which a version is known. */
    public Collection<String> policies() {
        return List.copyOf(policies.keySet());
    }

    /** The version of a policy in force at a moment, whoever follows it. */
    public Optional<PolicyVersion> versionAt(String policy, Instant moment) {
        PolicyVersion found = null;
        for (PolicyVersion version : versions(policy)) {
            if (version.effectiveFrom().isAfter(moment)) {
                break;
            }
            found = version;
        }
        return Optional.ofNullable(found);
    }

    /** The versions of a policy by the moment they take effect; empty where the policy is not known. */
    public List<PolicyVersion> versions(String policy) {
        return policies.getOrDefault(policy, List.of());
    }

    /** The version in force at a moment of the policy then assigned, switched on or not. */
    public Optional<PolicyVersion> versionAt(Database database, Instant moment) {
        return versionAt(database.policyAt(moment).orElse(""), moment);
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
