package firth.server.platform;

import io.vertx.ext.web.Router;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.List;

/** Hands every address of the application to its one page; the page finds the view. */
@ApplicationScoped
class DeepLinks {

    private static final List<String> VIEWS = List.of(
            "/begin",
            "/watch",
            "/needs",
            "/cover",
            "/databases",
            "/policies",
            "/week",
            "/fleet",
            "/history",
            "/gaps",
            "/people",
            "/record",
            "/purge",
            "/stores",
            "/restore",
            "/rehearsals",
            "/drills",
            "/report",
            "/sheets",
            "/live",
            "/sending");

    void route(@Observes Router router) {
        router.getWithRegex("/(?!api/|q/|assets/)[^/].*")
                .order(Integer.MIN_VALUE)
                .handler(context -> {
                    String path = context.normalizedPath();
                    if (VIEWS.stream().anyMatch(v -> path.equals(v) || path.startsWith(v + "/"))) {
                        context.reroute("/");
                    } else {
                        context.next();
                    }
                });
    }
}
