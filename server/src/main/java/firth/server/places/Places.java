package firth.server.places;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Route;
import firth.core.model.Site;
import firth.core.model.StandingRule;
import firth.exchange.StatedPlaces;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Sites, stores and routes as they stand, and their changes: each is judged by what is so when it is taken. */
@ApplicationScoped
class Places {

    /** So many databases that use something are named. */
    private static final int NAMED = 20;

    private static final String NAME = "name";
    private static final String RETIRED = "retired";

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Lookout lookout;
    private final ByHand byHand;
    private final ObjectMapper json;

    Places(FactsHolder facts, Evaluations evaluations, Lookout lookout, ByHand byHand, ObjectMapper json) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.byHand = byHand;
        this.json = json;
    }

    PlacesView all() {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            return new PlacesView(
                    places(snapshot, "site", id -> usedBy(fleet, "site", id, now)),
                    places(snapshot, "store", id -> usedBy(fleet, "store", id, now)),
                    places(snapshot, "route", id -> usedBy(fleet, "route", id, now)));
        }
    }

    private interface Use {
        PlacesView.PlaceUse of(String id);
    }

    private List<PlacesView.PlaceView> places(Snapshot snapshot, String type, Use use) {
        List<PlacesView.PlaceView> out = new ArrayList<>();
        for (String text : snapshot.documents(type)) {
            Map<String, Object> document = read(text);
            String id = String.valueOf(document.get("id"));
            Object retired = document.get(RETIRED);
            out.add(new PlacesView.PlaceView(
                    id,
                    String.valueOf(document.getOrDefault(NAME, id)),
                    retired == null ? null : Instant.parse(String.valueOf(retired)),
                    document,
                    use.of(id)));
        }
        out.sort(Comparator.comparing(PlacesView.PlaceView::name, String.CASE_INSENSITIVE_ORDER)
                .thenComparing(PlacesView.PlaceView::id));
        return out;
    }

    private Map<String, Object> read(String text) {
        try {
            return json.readValue(text, new TypeReference<Map<String, Object>>() {});
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("JSON that was kept cannot be read", e);
        }
    }

    /** What in use goes by something. */
    private static PlacesView.PlaceUse usedBy(FleetNow fleet, String type, String id, Instant now) {
        List<String> stores = type.equals("site")
                ? fleet.fleet().stores().stream()
                        .filter(s -> s.retired().isEmpty()
                                && s.site().filter(id::equals).isPresent())
                        .map(BackupStore::name)
                        .sorted()
                        .toList()
                : List.of();
        List<String> routes = type.equals("store")
                ? fleet.routes().stream()
                        .filter(r -> r.retired().isEmpty() && r.stores().contains(id))
                        .map(Route::name)
                        .sorted()
                        .toList()
                : List.of();
        List<String> standing = type.equals("route")
                ? fleet.standing().stream()
                        .filter(r -> r.route().filter(id::equals).isPresent())
                        .map(StandingRule::id)
                        .sorted()
                        .toList()
                : List.of();
        Predicate<Database> there = switch (type) {
            case "site" -> d -> d.site().filter(id::equals).isPresent();
            case "route" -> d -> d.particulars().route().filter(id::equals).isPresent();
            default -> d -> false;
        };
        List<String> databases = fleet.databases().values().stream()
                .filter(d -> !d.retiredAt(now))
                .filter(there)
                .map(Database::name)
                .sorted()
                .toList();
        return new PlacesView.PlaceUse(
                stores, routes, standing, databases.stream().limit(NAMED).toList(), databases.size());
    }

    /**
     * Takes one as it is said as a whole. Whether it is retired is not said so: it stays as it was.
     *
     * @param fresh whether there may be none of its id yet
     */
    void state(String type, JsonNode said, boolean fresh) {
        known(type);
        String id = StatedPlaces.of(type, said).record().id();
        byHand.take(() -> {
            try (Snapshot snapshot = facts.store().read()) {
                Optional<ObjectNode> before = snapshot.document(type, id).map(this::tree);
                if (fresh && before.isPresent()) {
                    throw new BadRequest("id", "is that of another " + type + ": " + id);
                }
                ObjectNode whole = said.deepCopy();
                whole.remove(RETIRED);
                before.filter(b -> b.has(RETIRED)).ifPresent(b -> whole.set(RETIRED, b.get(RETIRED)));
                return List.of(judged(evaluations.fleet(snapshot), type, whole));
            }
        });
    }

    /** One whose name is no other's, and which names nothing that is unknown or, unless it is retired itself, retired. */
    private static Stated judged(FleetNow fleet, String type, JsonNode document) {
        Stated stated = StatedPlaces.of(type, document);
        if (stated.record() instanceof Site s) {
            named(type, s.id(), s.name(), fleet.sites().values().stream().map(o -> Map.entry(o.id(), o.name())));
        } else if (stated.record() instanceof BackupStore s) {
            store(fleet, s);
        } else if (stated.record() instanceof Route r) {
            route(fleet, r);
        }
        return stated;
    }

    private static void known(String type) {
        if (!StatedPlaces.isPlace(type)) {
            throw new NotFound("There are no places called " + type + ": site, store or route.");
        }
    }

    private static void store(FleetNow fleet, BackupStore store) {
        named("store", store.id(), store.name(), fleet.fleet().stores().stream().map(o -> Map.entry(o.id(), o.name())));
        store.site().ifPresent(s -> {
            Optional<Site> site = Optional.ofNullable(fleet.sites().get(s));
            if (site.isEmpty()) {
                throw new BadRequest("site", "is none that is known: " + s);
            }
            if (store.retired().isEmpty() && site.get().retired().isPresent()) {
                throw new BadRequest("site", "is retired: " + site.get().name());
            }
        });
    }

    private static void route(FleetNow fleet, Route route) {
        named("route", route.id(), route.name(), fleet.routes().stream().map(o -> Map.entry(o.id(), o.name())));
        if (route.data().isEmpty()) {
            throw new BadRequest("data", "is missing: without a first store nothing can go there");
        }
        for (String id : route.stores()) {
            Optional<BackupStore> store = fleet.fleet().store(id);
            if (store.isEmpty()) {
                throw new BadRequest("The route", "names a store nobody knows: " + id);
            }
            if (route.retired().isEmpty() && store.get().retired().isPresent()) {
                throw new BadRequest(
                        "The route",
                        "names a store that is retired: " + store.get().name());
            }
        }
    }

    /** A name is there, and no other's. */
    private static void named(String type, String id, String name, Stream<Map.Entry<String, String>> others) {
        if (name.isBlank()) {
            throw new BadRequest(NAME, "is missing");
        }
        String own = name.strip().toLowerCase(Locale.ROOT);
        others.filter(o -> !o.getKey().equals(id))
                .filter(o -> o.getValue().strip().toLowerCase(Locale.ROOT).equals(own))
                .findFirst()
                .ifPresent(o -> {
                    throw new BadRequest(NAME, "is that of another " + type + ": " + o.getValue());
                });
    }

    /** Has one offered to nothing new any longer, once nothing in use goes by it; or offered again. */
    void retire(String type, String id, boolean retired) {
        known(type);
        byHand.take(() -> {
            Instant now = lookout.now();
            try (Snapshot snapshot = facts.store().read()) {
                ObjectNode document = snapshot.document(type, id)
                        .map(this::tree)
                        .orElseThrow(() -> new NotFound("There is no " + type + " " + id + "."));
                FleetNow fleet = evaluations.fleet(snapshot);
                PlacesView.PlaceUse by = usedBy(fleet, type, id, now);
                if (retired && !by.nobody()) {
                    throw new Conflict(
                            document.path(NAME).asText(id) + " is in use by " + users(by) + ".",
                            "Have them go elsewhere first, or retire them, too.");
                }
                if (retired) {
                    document.put(RETIRED, now.toString());
                } else {
                    document.remove(RETIRED);
                }
                return List.of(judged(fleet, type, document));
            }
        });
    }

    private ObjectNode tree(String text) {
        return json.valueToTree(read(text));
    }

    private static String users(PlacesView.PlaceUse by) {
        List<String> out = new ArrayList<>();
        by.stores().forEach(s -> out.add("the store " + s));
        by.routes().forEach(r -> out.add("the route " + r));
        by.standing().forEach(r -> out.add("the standing rule " + r));
        by.databases().stream().limit(3).forEach(d -> out.add("the database " + d));
        int more = by.databasesAll() - Math.min(3, by.databases().size());
        if (more > 0) {
            out.add(more == 1 ? "one database more" : more + " databases more");
        }
        return String.join(", ", out);
    }
}
