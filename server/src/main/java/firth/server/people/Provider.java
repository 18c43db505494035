package firth.server.people;

import jakarta.enterprise.context.ApplicationScoped;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The other service people may sign in through, where one is set. */
@ApplicationScoped
class Provider {

    private final boolean there;

    Provider(@ConfigProperty(name = "quarkus.oidc.tenant-enabled", defaultValue = "false") boolean there) {
        this.there = there;
    }

    boolean isThere() {
        return there;
    }
}
