package firth.server;

import io.vertx.ext.web.Router;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;

/** Hands every address of the application to its one page; the page finds the view. */
@ApplicationScoped
class DeepLinks {

    void route(@Observes Router router) {
        router.getWithRegex("/(?!api/|q/|assets/)[^/].*")
                .order(Integer.MIN_VALUE)
                .handler(context -> {
                    String path = context.normalizedPath();
                    boolean view = path.startsWith("/cover") || path.startsWith("/databases/");
                    if (view) {
                        context.reroute("/");
                    } else {
                        context.next();
                    }
                });
    }
}
