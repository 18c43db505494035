package firth.server.places;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** Sites, stores and routes, each kind by name. */
public record PlacesView(List<PlaceView> sites, List<PlaceView> stores, List<PlaceView> routes) {

    /**
     * One of them.
     *
     * @param retired since when it is offered to nothing new; null: it is in use
     * @param document as it was stated, as the exchange format writes it
     */
    public record PlaceView(
            String id,
            String name,
            @Schema(nullable = true) @Nullable Instant retired,
            Map<String, Object> document,
            PlaceUse usedBy) {}

    /**
     * What would have nowhere to go if it were not there: nothing that is in use may be retired.
     *
     * @param stores names of the stores at a site
     * @param routes names of the routes by way of a store
     * @param standing ids of the standing rules that give a route
     * @param databases a few of the databases in service at a site or on a route, by name
     * @param databasesAll how many there are
     */
    public record PlaceUse(
            List<String> stores, List<String> routes, List<String> standing, List<String> databases, int databasesAll) {

        boolean nobody() {
            return stores.isEmpty() && routes.isEmpty() && standing.isEmpty() && databasesAll == 0;
        }
    }
}
