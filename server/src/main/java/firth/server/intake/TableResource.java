package firth.server.intake;

import firth.core.model.Mapping;
import firth.exchange.Mappings;
import firth.exchange.MemoryCatalog;
import firth.exchange.TableReader;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Tables of runs or backups with headers of their own. */
@Path("/api/import/table")
@RolesAllowed(Roles.VIEWER)
public class TableResource {

    private static final int PREVIEWED = 500;
    private static final int SHOWN = 5;

    private final Importing importing;
    private final FactsHolder facts;

    TableResource(Importing importing, FactsHolder facts) {
        this.importing = importing;
        this.facts = facts;
    }

    /**
     * Takes a table in, in one transaction.
     *
     * @param turn {@code yes}: known runs and backups may become ones of another database, kind or lineage
     * @param mapping a mapping as JSON; absent: the headers are the names of the fields of backups
     */
    @POST
    @Consumes("text/csv")
    @RolesAllowed(Roles.OPERATOR)
    public ImportView take(
            InputStream body,
            @QueryParam("source") @DefaultValue("table") String source,
            @QueryParam("turn") @Nullable String turn,
            @QueryParam("mapping") @Nullable String mapping)
            throws IOException {
        Importing.checkSource(source);
        Mapping how = mapping(mapping);
        return importing.take(
                source,
                "yes".equals(turn),
                body,
                (bytes, catalog) -> TableReader.read(bytes, source, how, catalog, Long.MAX_VALUE, 0)
                        .report());
    }

    /** Reads the first rows of a table and takes nothing. */
    @POST
    @Path("/preview")
    @Consumes("text/csv")
    @RolesAllowed(Roles.OPERATOR)
    public TableView preview(
            InputStream body,
            @QueryParam("source") @DefaultValue("table") String source,
            @QueryParam("mapping") @Nullable String mapping)
            throws IOException {
        NamedDatabases named = new NamedDatabases(new MemoryCatalog());
        TableReader.Read read = TableReader.read(body, source, mapping(mapping), named, PREVIEWED, SHOWN);
        return new TableView(Importing.view(read.report(), 0, named.unknown(importing.known())), read.first());
    }

    private static Mapping mapping(@Nullable String text) {
        if (text == null || text.isBlank()) {
            return Mappings.plain("backup");
        }
        try {
            return Mappings.of(text);
        } catch (IllegalArgumentException e) {
            throw new BadRequest("mapping", String.valueOf(e.getMessage()));
        }
    }

    /** The mappings that were given a name. */
    @GET
    @Path("/mappings")
    public List<TableView.KeptMapping> mappings() {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.documents("mapping").stream()
                    .map(text -> {
                        Mapping m = Mappings.of(text);
                        return new TableView.KeptMapping(m.id(), m.name(), text);
                    })
                    .toList();
        }
    }
}
