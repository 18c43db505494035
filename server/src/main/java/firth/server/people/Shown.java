package firth.server.people;

import io.quarkus.security.identity.request.BaseAuthenticationRequest;
import java.util.Optional;

/**
 * What a request shows of who it is of.
 *
 * @see SignedIn
 */
final class Shown extends BaseAuthenticationRequest {

    private final Optional<String> session;
    private final Optional<String> token;

    private Shown(Optional<String> session, Optional<String> token) {
        this.session = session;
        this.token = token;
    }

    static Shown session(String secret) {
        return new Shown(Optional.of(secret), Optional.empty());
    }

    static Shown token(String secret) {
        return new Shown(Optional.empty(), Optional.of(secret));
    }

    /** Nothing, at the demo on this machine. */
    static Shown nothing() {
        return new Shown(Optional.empty(), Optional.empty());
    }

    Optional<String> session() {
        return session;
    }

    Optional<String> token() {
        return token;
    }
}
