package firth.server.fleet;

import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What databases can be given and told apart by, and the rules that give new ones a policy.
 *
 * @param labels each as its name and value, as in "class=sailings"
 */
public record FleetChoices(
        List<FleetView.NamedDatabase> policies,
        List<RouteView> routes,
        List<FleetView.NamedDatabase> stores,
        List<FleetView.NamedDatabase> sites,
        List<String> owners,
        List<String> labels,
        List<Standing> standing) {

    /**
     * Where data backups and logs go, alternates in order, and where each is copied to; ids of stores.
     *
     * @param takers a few of the databases that use it, by name
     * @param takenBy how many do
     */
    public record RouteView(
            String id,
            String name,
            List<String> data,
            List<String> log,
            List<String> copies,
            List<String> takers,
            int takenBy) {}

    /** A standing rule. */
    public record Standing(
            String id,
            int order,
            Map<String, String> labels,
            @Schema(nullable = true) @Nullable String engine,
            @Schema(nullable = true) @Nullable String site,
            @Schema(nullable = true) @Nullable String system,
            @Schema(nullable = true) @Nullable String name,
            @Schema(nullable = true) @Nullable String policy,
            @Schema(nullable = true) @Nullable String route,
            boolean enabled) {}
}
