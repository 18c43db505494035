package firth.core.cover;

import firth.core.fleet.BackupStore;
import java.util.Set;

/** What else is taken to be lost, beyond a hazard: whole stores, and all stores at a site. By id. */
public record Losses(Set<String> stores, Set<String> sites) {

    public static final Losses NONE = new Losses(Set.of(), Set.of());

    public Losses {
        stores = Set.copyOf(stores);
        sites = Set.copyOf(sites);
    }

    boolean takes(BackupStore store) {
        return stores.contains(store.id())
                || store.site().filter(sites::contains).isPresent();
    }
}
