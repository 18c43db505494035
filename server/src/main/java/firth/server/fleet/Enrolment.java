package firth.server.fleet;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.model.Route;
import firth.core.model.Site;
import firth.exchange.BadField;
import firth.exchange.StatedDatabases;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.intake.ImportView;
import firth.server.intake.Importing;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What is said of databases: as it was stated last, and as a form or a table states it now. */
@ApplicationScoped
class Enrolment {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final ObjectMapper json;
    private final Importing importing;
    private final Evaluations evaluations;

    Enrolment(FactsHolder facts, Lookout lookout, ObjectMapper json, Importing importing, Evaluations evaluations) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.json = json;
        this.importing = importing;
    }

    /** A database as it was last stated, to be stated anew with changes. */
    FleetView.Written one(String id) {
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("database")) {
                Map<String, Object> document = read(text);
                if (id.equals(document.get("id"))) {
                    return new FleetView.Written(document);
                }
            }
        }
        throw new NotFound("There is no database " + id + ".");
    }

    private Map<String, Object> read(String text) {
        try {
            return json.readValue(text, new TypeReference<Map<String, Object>>() {});
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("JSON that was kept cannot be read", e);
        }
    }

    /**
     * Takes databases as a form or a table says them; one that cannot be taken leaves the others unharmed.
     *
     * @param whole {@code yes}: each is said as a whole; else what is not said stays as it was
     */
    ImportView state(List<JsonNode> stated, @Nullable String whole) throws IOException {
        StatedDatabases databases = known();
        return importing.take(
                "by hand",
                InputStream.nullInputStream(),
                (nothing, catalog) -> databases.read(stated, "yes".equals(whole), "by hand", catalog));
    }

    private StatedDatabases known() {
        try (Snapshot snapshot = facts.store().read()) {
            return new StatedDatabases(
                    names(evaluations.fleet(snapshot)), snapshot.documents("database"), lookout.now());
        }
    }

    /** What would become of databases as a table says them; nothing is taken. */
    FleetView.ComparedTable compare(List<JsonNode> stated) {
        StatedDatabases databases = known();
        List<FleetView.UnknownName> unknown = new ArrayList<>();
        databases
                .unknownNames(stated)
                .forEach((field, texts) ->
                        texts.forEach((text, rows) -> unknown.add(new FleetView.UnknownName(field, text, rows))));
        return new FleetView.ComparedTable(
                databases.compare(stated).stream().map(this::view).toList(), unknown);
    }

    private FleetView.ComparedDatabase view(StatedDatabases.Compared c) {
        String manner = c.bad().isPresent()
                ? "refused"
                : c.before().isEmpty() ? "new" : c.changes().isEmpty() ? "unchanged" : "changed";
        return new FleetView.ComparedDatabase(
                c.id(),
                manner,
                c.before().map(b -> read(b.toString())).orElse(null),
                c.changes().stream()
                        .map(f -> new FleetView.ChangedField(f.field(), f.before(), f.after()))
                        .toList(),
                c.bad().map(BadField::field).orElse(""),
                c.bad().map(BadField::reason).orElse(""));
    }

    private Map<String, Map<String, String>> names(FleetNow fleet) {
        Map<String, String> policies = new TreeMap<>();
        fleet.fleet().policies().forEach(p -> policies.put(p, FleetViews.policyName(fleet, p, lookout.now())));
        return Map.of(
                "site",
                fleet.sites().values().stream().collect(Collectors.toMap(Site::id, Site::name)),
                "route",
                fleet.routes().stream().collect(Collectors.toMap(Route::id, Route::name)),
                "policy",
                policies);
    }
}
