package firth.server.history;

import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.store.Entry;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Runs and backups, drills and restores of the fleet: a page at a time, one in detail, and as a file. */
@Path("/api/history")
@RolesAllowed(Roles.VIEWER)
public class HistoryResource {
    private static final int LONGEST_ID = 120;
    private static final int FOUND = 6;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final HistoryPages historyPages;
    private final HistoryExport historyExport;

    HistoryResource(
            Evaluations evaluations,
            Lookout lookout,
            FactsHolder facts,
            HistoryPages historyPages,
            HistoryExport historyExport) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
        this.historyPages = historyPages;
        this.historyExport = historyExport;
    }

    /**
     * @param after the place to go on from, as the page before gave it; absent: the newest
     * @param under the id of a run that stands for others: they are given, the newest first
     */
    @GET
    public HistoryView page(
            @BeanParam HistoryAsked asked,
            @QueryParam("after") @Nullable String after,
            @QueryParam("under") @Nullable String under,
            @QueryParam("limit") @DefaultValue("100") int limit) {
        return historyPages.page(asked, after, under, limit);
    }

    /**
     * Runs and backups by how their ids begin.
     *
     * @param beginning at least one character
     */
    @GET
    @Path("/ids")
    public List<HistoryView.KnownId> ids(@QueryParam("beginning") @Nullable String beginning) {
        if (beginning == null || beginning.isBlank() || beginning.length() > LONGEST_ID) {
            throw new BadRequest("beginning", "is not the beginning of an id");
        }
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.idsFrom(beginning, FOUND).stream()
                    .map(k -> new HistoryView.KnownId(k.id(), k.kind(), k.database()))
                    .toList();
        }
    }

    /** What one may choose among. */
    @GET
    @Path("/facets")
    public HistoryView.Facets facets(@BeanParam HistoryAsked asked) {
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        try (Snapshot snapshot = facts.store().read()) {
            return new HistoryFacets(evaluations.fleet(snapshot), snapshot, view, asked).all();
        }
    }

    /** One run or backup, by the id of either. */
    @GET
    @Path("/lines/{id: .+}")
    public HistoryLine line(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        try (Snapshot snapshot = facts.store().read()) {
            Entry entry = snapshot.entries()
                    .of(id)
                    .filter(e -> !e.started().isAfter(view.asOf()))
                    .orElseThrow(() -> new NotFound("There was no run or backup " + id + " by then."));
            return new HistoryDetail(evaluations, snapshot, view).of(entry);
        }
    }

    /** Everything chosen, as fleet file lines or as a table. */
    @GET
    @Path("/export.{format: ndjson|csv}")
    @Produces({"application/x-ndjson", "text/csv"})
    public StreamingOutput export(@BeanParam HistoryAsked asked, @PathParam("format") String format) {
        return historyExport.export(asked, format);
    }
}
