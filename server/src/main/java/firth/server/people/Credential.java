package firth.server.people;

import io.quarkus.security.identity.request.BaseAuthenticationRequest;
import java.util.Optional;

/**
 * What a request shows of who it is of.
 *
 * @see SignedIn
 */
final class Credential extends BaseAuthenticationRequest {

    private final Optional<String> session;
    private final Optional<String> token;

    private Credential(Optional<String> session, Optional<String> token) {
        this.session = session;
        this.token = token;
    }

    static Credential session(String secret) {
        return new Credential(Optional.of(secret), Optional.empty());
    }

    static Credential token(String secret) {
        return new Credential(Optional.empty(), Optional.of(secret));
    }

    /** Nothing, at the demo on this machine. */
    static Credential nothing() {
        return new Credential(Optional.empty(), Optional.empty());
    }

    Optional<String> session() {
        return session;
    }

    Optional<String> token() {
        return token;
    }
}
