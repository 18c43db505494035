package firth.server;

import firth.store.FactStore;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** Opens the facts once for the whole server. */
@ApplicationScoped
public class FactsHolder {

    private final FactStore store;

    FactsHolder(@ConfigProperty(name = "firth.data") String file) {
        this.store = FactStore.open(Path.of(file));
    }

    public FactStore store() {
        return store;
    }
}
