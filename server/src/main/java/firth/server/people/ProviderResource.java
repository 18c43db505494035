package firth.server.people;

import firth.server.platform.Refused;
import firth.server.platform.Secrets;
import io.vertx.core.http.Cookie;
import io.vertx.core.http.HttpServerRequest;
import jakarta.annotation.security.PermitAll;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.NewCookie;
import jakarta.ws.rs.core.Response;
import java.net.URI;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jspecify.annotations.Nullable;

/** Signing in through another service: there and back. */
@Path("/api/session/provider")
@PermitAll
public class ProviderResource {

    private static final String PATH = "/api/session/provider";
    private static final String COOKIE = "firth-errand";
    private static final int ERRAND_SECONDS = 600;

    private final Provider provider;
    private final Directory directory;
    private final SigningIn doors;
    private final Optional<String> address;

    ProviderResource(
            Provider provider,
            Directory directory,
            SigningIn doors,
            @ConfigProperty(name = "firth.provider.address") Optional<String> address) {
        this.provider = provider;
        this.directory = directory;
        this.doors = doors;
        this.address = address;
    }

    /** Sends the browser to the service. */
    @GET
    @PermitAll
    public Response go(@Context HttpServerRequest request) {
        demandProvider();
        Provider.Errand errand = Provider.Errand.begin();
        return Response.seeOther(provider.go(errand, back(request)))
                .cookie(errand(errand.text(), ERRAND_SECONDS, request))
                .build();
    }

    /** Takes it back with what the service said. */
    @GET
    @Path("/back")
    @PermitAll
    public Response back(
            @QueryParam("code") @Nullable String code,
            @QueryParam("state") @Nullable String state,
            @Context HttpServerRequest request) {
        demandProvider();
        Provider.Errand errand = Optional.ofNullable(request.getCookie(COOKIE))
                .map(Cookie::getValue)
                .flatMap(Provider.Errand::of)
                .filter(e -> state != null && Secrets.same(e.state(), state))
                .filter(e -> code != null)
                .orElseThrow(() -> Refused.elsewhere("This browser was not returning from a sign-in."));
        Provider.Vouched person = provider.come(code, errand, back(request));
        directory.vouchedFor(person.id(), person.name(), person.roles());
        String secret = doors.begin(person.id(), "sign-in");
        return Response.seeOther(URI.create(base(request) + "/"))
                .cookie(SessionResource.cookie(secret).secure(request.isSSL()).build(), errand("", 0, request))
                .build();
    }

    private void demandProvider() {
        if (!provider.isThere()) {
            throw Refused.elsewhere("No sign-in service is configured here.");
        }
    }

    private String base(HttpServerRequest request) {
        return address.orElseGet(() -> request.scheme() + "://" + request.authority());
    }

    private URI back(HttpServerRequest request) {
        return URI.create(base(request) + PATH + "/back");
    }

    /** Another site sends the browser back, so that this cookie, unlike a session's, must come along then. */
    private static NewCookie errand(String text, int seconds, HttpServerRequest request) {
        return new NewCookie.Builder(COOKIE)
                .value(text)
                .path(PATH)
                .maxAge(seconds)
                .httpOnly(true)
                .secure(request.isSSL())
                .sameSite(NewCookie.SameSite.LAX)
                .build();
    }
}
