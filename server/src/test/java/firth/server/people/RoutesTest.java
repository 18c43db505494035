package firth.server.people;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaMethod;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import firth.core.record.Deed;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.platform.Secrets;
import firth.store.People;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import jakarta.annotation.security.PermitAll;
import jakarta.annotation.security.RolesAllowed;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import java.io.IOException;
import java.io.InputStream;
import java.lang.annotation.Annotation;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Every route says who may take it, docs/people.md says the same, and nobody else gets through. */
@QuarkusTest
@TestProfile(OwnFacts.class)
class RoutesTest {

    private static final List<Class<? extends Annotation>> METHODS =
            List.of(GET.class, POST.class, PUT.class, DELETE.class);
    private static final List<String> ALL = List.of(
            Roles.VIEWER,
            Roles.OPERATOR,
            Roles.PLANNER,
            Roles.KEEPER,
            Roles.APPROVER,
            Roles.ADMINISTRATOR,
            Roles.RUNNER,
            Roles.DRILLER,
            Roles.AGENT);

    @Inject
    FactsHolder facts;

    @TestHTTPResource("/")
    URI server;

    private final HttpClient client =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

    /**
     * A route.
     *
     * @param roles who may take it; empty: everybody
     */
    private record Route(String method, String path, List<String> roles, String consumes) {
        boolean open() {
            return roles.isEmpty();
        }

        boolean lets(String role) {
            return open() || roles.contains(role) || roles.contains(Roles.VIEWER) && Roles.OF_PEOPLE.contains(role);
        }
    }

    private static List<Route> routes() {
        List<Route> out = new ArrayList<>();
        new ClassFileImporter()
                .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS).importPackages("firth.server").stream()
                        .filter(c -> c.isAnnotatedWith(Path.class))
                        .flatMap(c -> c.getMethods().stream())
                        .forEach(m -> METHODS.stream()
                                .filter(m::isAnnotatedWith)
                                .forEach(verb -> out.add(route(m, verb.getSimpleName()))));
        return out;
    }

    private static Route route(JavaMethod m, String verb) {
        String path = m.getOwner().getAnnotationOfType(Path.class).value()
                + m.tryGetAnnotationOfType(Path.class).map(Path::value).orElse("");
        path = path.replaceAll("\\{(\\w+):[^}]*}", "{$1}");
        Optional<RolesAllowed> roles = m.tryGetAnnotationOfType(RolesAllowed.class)
                .or(() -> m.getOwner().tryGetAnnotationOfType(RolesAllowed.class));
        boolean open = m.isAnnotatedWith(PermitAll.class);
        assertTrue(open || roles.isPresent(), verb + " " + path + " does not say who may take it");
        return new Route(
                verb,
                path,
                open ? List.of() : List.of(roles.get().value()),
                m.tryGetAnnotationOfType(Consumes.class).map(c -> c.value()[0]).orElse("application/json"));
    }

    @Test
    void theDocumentSaysTheSame() throws IOException {
        Map<String, Set<String>> written = new TreeMap<>();
        for (String line : Files.readAllLines(java.nio.file.Path.of("../docs/people.md"))) {
            String[] cells = line.split("\\|");
            if (cells.length > 2 && cells[1].contains(" `/")) {
                written.put(
                        cells[1].strip().replace("`", ""),
                        new TreeSet<>(List.of(cells[2].strip().split(", "))));
            }
        }
        Map<String, Set<String>> declared = new TreeMap<>();
        routes().forEach(r ->
                declared.put(r.method() + " " + r.path(), new TreeSet<>(r.open() ? List.of("everybody") : r.roles())));
        StringBuilder table = new StringBuilder();
        declared.forEach((route, roles) -> table.append("| ")
                .append(route.replaceFirst(" ", " `"))
                .append("` | ")
                .append(String.join(", ", roles))
                .append(" |\n"));
        assertEquals(declared, written, "docs/people.md ought to say\n" + table);
    }

    @Test
    void nobodyGetsThroughWithoutTheRole() throws Exception {
        Map<String, Map<String, String>> shown = new HashMap<>();
        for (Route route : routes()) {
            int unknown = ask(route, Map.of());
            if (!route.open()) {
                assertEquals(401, unknown, route + " for nobody");
            }
            for (String role : ALL) {
                int status = ask(route, shown.computeIfAbsent(role, this::shown));
                if (route.method().equals("DELETE") && route.path().equals("/api/session")) {
                    shown.remove(role);
                }
                if (!route.lets(role)) {
                    assertEquals(403, status, route + " for " + role);
                } else if (!route.open()) {
                    assertTrue(status != 401 && status != 403, route + " for " + role + ": " + status);
                }
            }
        }
    }

    /** What somebody shows who has one role and no other. */
    private Map<String, String> shown(String role) {
        Instant now = Instant.now();
        People people = facts.store().people();
        Deed.Told told = new Deed.Told("test", "test", role, "{}");
        String secret = Secrets.make();
        if (Roles.OF_PEOPLE.contains(role)) {
            people.put(
                    new People.Person("only-" + role, role, Optional.empty(), Set.of(role), false, 0, Optional.empty()),
                    told,
                    now);
            people.begin(Secrets.hash(secret), "only-" + role, told, now);
            return Map.of(
                    "Cookie",
                    CredentialFilter.COOKIE + "=" + secret,
                    CredentialFilter.PAGE_HEADER,
                    Secrets.pageToken(secret));
        }
        people.put(
                new People.Token(
                        Secrets.hash(secret),
                        Secrets.make(),
                        role,
                        Set.of(role),
                        Optional.of("nobody"),
                        now,
                        "test",
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty()),
                told,
                now);
        return Map.of("Authorization", "Bearer " + secret);
    }

    private int ask(Route route, Map<String, String> headers) throws Exception {
        String path = route.path().replace("{format}", "csv").replaceAll("\\{[^}]*}", "nobody");
        HttpRequest.Builder request = HttpRequest.newBuilder(server.resolve(path));
        headers.forEach(request::header);
        boolean body = !route.method().equals("GET");
        request.header("content-type", route.consumes())
                .method(
                        route.method(),
                        body ? HttpRequest.BodyPublishers.ofString("{}") : HttpRequest.BodyPublishers.noBody());
        if (path.equals("/api/changes")) {
            return beginning(request.build());
        }
        return client.send(request.build(), HttpResponse.BodyHandlers.discarding())
                .statusCode();
    }

    /** Server-sent events do not end, and only begin when there is something to say. */
    private int beginning(HttpRequest request) throws Exception {
        try {
            HttpResponse<InputStream> answer = client.sendAsync(request, HttpResponse.BodyHandlers.ofInputStream())
                    .get(2, TimeUnit.SECONDS);
            answer.body().close();
            return answer.statusCode();
        } catch (TimeoutException listening) {
            return 200;
        }
    }

    @AfterEach
    void sendThemAway() {
        facts.store().people().all().stream()
                .filter(p -> p.id().startsWith("only-"))
                .forEach(p -> facts.store()
                        .people()
                        .put(
                                new People.Person(p.id(), p.name(), p.password(), p.roles(), true, 0, Optional.empty()),
                                new Deed.Told("test", "test", p.id(), "{}"),
                                Instant.now()));
    }
}
