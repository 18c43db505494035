package firth.server.platform;

import io.quarkus.arc.Arc;
import io.quarkus.security.identity.SecurityIdentity;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.Optional;
import java.util.Set;

/** Who the request at hand is of. */
@ApplicationScoped
public class Who {

    /** What stands in the record for what Firth does of itself. */
    public static final String FIRTH = "firth";

    /** Before the id of the one database a program may speak of. */
    public static final String DATABASE = "database:";

    public static final String NAME = "name";
    public static final String PLACE = "place";
    public static final String SESSION = "session";
    public static final String KEY = "key";

    private final SecurityIdentity identity;

    Who(SecurityIdentity identity) {
        this.identity = identity;
    }

    private boolean somebody() {
        return Arc.container().requestContext().isActive() && !identity.isAnonymous();
    }

    /** The id of the person or program, as the record has it. */
    public String id() {
        return somebody() ? identity.getPrincipal().getName() : FIRTH;
    }

    /** The id, where somebody is signed in. */
    public Optional<String> known() {
        return somebody() ? Optional.of(id()) : Optional.empty();
    }

    /** The name of the person or program, as a page shows it. */
    public String name() {
        return somebody() ? identity.getAttribute(NAME) : "Firth";
    }

    /** The one store or host a program may speak of. */
    public Optional<String> place() {
        return somebody() ? Optional.ofNullable(identity.getAttribute(PLACE)) : Optional.empty();
    }

    /** Whether a program asks, by a token. */
    public boolean isProgram() {
        return key().isPresent();
    }

    public Set<String> roles() {
        return somebody() ? identity.getRoles() : Set.of();
    }

    public boolean has(String role) {
        return somebody() && identity.hasRole(role);
    }

    /**
     * Goes on only for the agent of a store.
     *
     * @throws Refused for that of another
     */
    public void checkAgentAt(String store) {
        if (place().filter(store::equals).isEmpty()) {
            throw Refused.notYours(
                    "This token is of the agent at " + place().orElse("no store") + ", not at " + store + ".",
                    "Give the agent there a token of its own.");
        }
    }

    /** What only Firth and a program with its token can work out: SHA-256 of the token in hexadecimal. */
    public Optional<String> key() {
        return somebody() ? Optional.ofNullable(identity.getAttribute(KEY)) : Optional.empty();
    }

    /** The hash of the session, where a browser is signed in. */
    public Optional<String> session() {
        return somebody() ? Optional.ofNullable(identity.getAttribute(SESSION)) : Optional.empty();
    }
}
