package firth.server.people;

import firth.server.evaluation.Evaluations;
import firth.server.people.SessionView.Someone;
import firth.server.platform.NotFound;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import firth.server.platform.Secrets;
import firth.server.platform.Who;
import firth.store.People;
import io.vertx.core.http.HttpServerRequest;
import jakarta.annotation.security.PermitAll;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.NewCookie;
import jakarta.ws.rs.core.Response;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.resteasy.reactive.Cache;

/** Coming and going. */
@Path("/api/session")
public class SessionResource {

    private final SigningIn doors;
    private final Directory directory;
    private final MadeUpPeople madeUp;
    private final Provider provider;
    private final Who who;
    private final Evaluations evaluations;
    private final String version;
    private final boolean live;

    SessionResource(
            SigningIn doors,
            Directory directory,
            MadeUpPeople madeUp,
            Provider provider,
            Who who,
            Evaluations evaluations,
            @ConfigProperty(name = "quarkus.application.version") String version,
            @ConfigProperty(name = "firth.live") Optional<String> live) {
        this.doors = doors;
        this.directory = directory;
        this.madeUp = madeUp;
        this.provider = provider;
        this.who = who;
        this.evaluations = evaluations;
        this.version = version;
        this.live = live.isPresent();
    }

    /** Who is signed in here. */
    @GET
    @PermitAll
    @Cache(noStore = true)
    public SessionView here(@Context HttpServerRequest request) {
        Optional<People.Person> person = who.known().flatMap(directory::find);
        String cookie = Optional.ofNullable(request.getCookie(CredentialFilter.COOKIE))
                .map(c -> c.getValue())
                .filter(c -> who.session().isPresent())
                .orElse("");
        return new SessionView(
                person.map(SessionResource::someone).orElse(null),
                person.map(p -> List.copyOf(Roles.widened(p.roles()))).orElse(List.of()),
                cookie.isEmpty() ? "" : Secrets.pageToken(cookie),
                madeUp.isDemo(),
                live,
                madeUp.all().stream().map(SessionResource::someone).toList(),
                doors.awaitsFirst(),
                person.isPresent() && evaluations.fleetNow().databases().isEmpty(),
                provider.isThere(),
                version);
    }

    private static Someone someone(People.Person p) {
        return new Someone(p.id(), p.name(), List.copyOf(Roles.widened(p.roles())));
    }

    @POST
    @PermitAll
    public Response enter(SessionView.Entering with, @Context HttpServerRequest request) {
        return begun(doors.enter(text(with.id()), text(with.password())), request);
    }

    /** The first administrator makes themself known by the code the server printed when it began. */
    @POST
    @Path("/first")
    @PermitAll
    public Response first(SessionView.FirstEntering with, @Context HttpServerRequest request) {
        directory.checkNew(with.id(), with.name());
        return begun(doors.first(text(with.code()), with.id(), with.name(), with.password()), request);
    }

    /** In the demo, on this machine: be somebody else. */
    @POST
    @Path("/as")
    @PermitAll
    public Response be(SessionView.Being whom, @Context HttpServerRequest request) {
        if (!madeUp.isDemo() || !CredentialFilter.isOnThisMachine(request)) {
            throw Refused.notYours("You can switch to another person only in the demo.", "Sign in as yourself.");
        }
        People.Person person = madeUp.all().stream()
                .filter(p -> p.id().equals(whom.person()))
                .findFirst()
                .orElseThrow(() -> new NotFound("The demo has nobody who signs in as " + whom.person() + "."));
        return begun(doors.begin(person.id(), "sign-in"), request);
    }

    @POST
    @Path("/password")
    @RolesAllowed(Roles.VIEWER)
    public void change(SessionView.NewPassword words) {
        directory.changeOwn(who.id(), text(words.old()), words.password());
    }

    @DELETE
    @RolesAllowed({Roles.VIEWER, Roles.RUNNER, Roles.AGENT})
    public Response leave() {
        who.session().ifPresent(s -> doors.leave(s, who.id()));
        return Response.noContent().cookie(cookie("").maxAge(0).build()).build();
    }

    private static String text(String given) {
        return given == null ? "" : given;
    }

    static Response begun(String secret, HttpServerRequest request) {
        return Response.noContent()
                .cookie(cookie(secret).secure(request.isSSL()).build())
                .build();
    }

    static NewCookie.Builder cookie(String secret) {
        return new NewCookie.Builder(CredentialFilter.COOKIE)
                .value(secret)
                .path("/")
                .httpOnly(true)
                .sameSite(NewCookie.SameSite.STRICT);
    }
}
