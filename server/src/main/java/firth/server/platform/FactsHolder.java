package firth.server.platform;

import firth.store.FactStore;
import firth.store.FileHold;
import firth.store.StoreFailure;
import io.quarkus.runtime.configuration.ConfigurationException;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** Opens the facts once for the whole server, and holds them: no second Firth serves the same file, and no copy takes its place meanwhile. */
@ApplicationScoped
public class FactsHolder {

    private final FileHold hold;
    private final FactStore store;

    public FactsHolder(@ConfigProperty(name = "firth.data") String file) {
        try {
            this.hold = FileHold.of(Path.of(file));
            this.store = FactStore.open(Path.of(file));
        } catch (StoreFailure e) {
            // Of what is of this kind alone the server says the sentence without a stack trace, and ends.
            throw new ConfigurationException(e.getMessage()
                    + (e.getCause() == null ? "" : " (" + e.getCause().getMessage() + ")"));
        }
    }

    @PreDestroy
    void letGo() {
        store.close();
        hold.close();
    }

    public FactStore store() {
        return store;
    }
}
