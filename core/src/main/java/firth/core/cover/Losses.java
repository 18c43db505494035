package firth.core.cover;

import firth.core.model.BackupStore;
import java.util.Set;

/**
 * What else is taken to be lost, beyond a hazard.
 *
 * @param stores whole stores, by id
 * @param sites all stores at a site, by id
 * @param copies single copies, such as one that was found not to read
 */
public record Losses(Set<String> stores, Set<String> sites, Set<LostCopy> copies) {

    public static final Losses NONE = new Losses(Set.of(), Set.of());

    public Losses {
        stores = Set.copyOf(stores);
        sites = Set.copyOf(sites);
        copies = Set.copyOf(copies);
    }

    /** No single copies. */
    public Losses(Set<String> stores, Set<String> sites) {
        this(stores, sites, Set.of());
    }

    /** One copy by the backup it is of and the store it lies in. */
    public record LostCopy(String backup, String store) {}

    boolean takes(BackupStore store) {
        return stores.contains(store.id())
                || store.site().filter(sites::contains).isPresent();
    }
}
