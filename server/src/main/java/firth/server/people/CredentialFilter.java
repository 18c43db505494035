package firth.server.people;

import firth.server.platform.Secrets;
import io.quarkus.security.identity.IdentityProviderManager;
import io.quarkus.security.identity.SecurityIdentity;
import io.quarkus.security.identity.request.AuthenticationRequest;
import io.quarkus.vertx.http.runtime.security.ChallengeData;
import io.quarkus.vertx.http.runtime.security.HttpAuthenticationMechanism;
import io.smallrye.mutiny.Uni;
import io.vertx.core.http.Cookie;
import io.vertx.core.http.HttpMethod;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.ext.web.RoutingContext;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Reads from a request who it is of: a token in its Authorization header, or the session in its cookie. A change that comes with a
 * cookie must also show what only Firth's own page knows; and none is taken that another site's page sends.
 */
@ApplicationScoped
class CredentialFilter implements HttpAuthenticationMechanism {

    static final String COOKIE = "firth-session";
    static final String PAGE_HEADER = "X-Firth-Page";

    private static final String BEARER = "Bearer ";
    private static final Set<HttpMethod> LOOKING = Set.of(HttpMethod.GET, HttpMethod.HEAD, HttpMethod.OPTIONS);

    private final MadeUpPeople madeUp;

    CredentialFilter(MadeUpPeople madeUp) {
        this.madeUp = madeUp;
    }

    @Override
    public Uni<SecurityIdentity> authenticate(RoutingContext context, IdentityProviderManager providers) {
        return shown(context.request())
                .map(s -> providers.authenticate(s))
                .orElseGet(() -> Uni.createFrom().nullItem());
    }

    private Optional<Credential> shown(HttpServerRequest request) {
        String authorization = request.getHeader("Authorization");
        if (authorization != null) {
            return authorization.startsWith(BEARER)
                    ? Optional.of(Credential.token(
                            authorization.substring(BEARER.length()).strip()))
                    : Optional.empty();
        }
        boolean change = !LOOKING.contains(request.method());
        if (change && isOfAnotherSite(request)) {
            return Optional.empty();
        }
        Cookie cookie = request.getCookie(COOKIE);
        if (cookie == null) {
            return madeUp.isDemo() && isOnThisMachine(request) ? Optional.of(Credential.nothing()) : Optional.empty();
        }
        String page = request.getHeader(PAGE_HEADER);
        boolean ours = page != null && Secrets.same(page, Secrets.pageToken(cookie.getValue()));
        return change && !ours ? Optional.empty() : Optional.of(Credential.session(cookie.getValue()));
    }

    private static boolean isOfAnotherSite(HttpServerRequest request) {
        String origin = request.getHeader("Origin");
        String host = host(request);
        return origin != null
                && (host == null || !origin.replaceFirst("^https?://", "").equals(host));
    }

    /** The name it was sent to, with its port, whichever version of HTTP it came in. */
    private static @Nullable String host(HttpServerRequest request) {
        return request.authority() == null ? null : request.authority().toString();
    }

    /** Whether it was sent from this machine to a name of this machine; another name may be a trick played on a browser. */
    static boolean isOnThisMachine(HttpServerRequest request) {
        String host = Optional.ofNullable(host(request)).orElse("").replaceFirst(":\\d+$", "");
        String from = request.remoteAddress().hostAddress();
        return Set.of("127.0.0.1", "localhost", "[::1]").contains(host)
                && from != null
                && (from.startsWith("127.") || from.equals("::1") || from.equals("0:0:0:0:0:0:0:1"));
    }

    @Override
    public Uni<ChallengeData> getChallenge(RoutingContext context) {
        return Uni.createFrom().item(new ChallengeData(401, null, null));
    }

    @Override
    public Set<Class<? extends AuthenticationRequest>> getCredentialTypes() {
        return Set.of(Credential.class);
    }
}
