package firth.server.database;

import firth.core.evaluation.Evaluation;
import firth.core.model.Note;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** One database: its cover, its backups, and why they are judged as they are. */
@Path("/api/databases/{id}")
@RolesAllowed(Roles.VIEWER)
public class DatabaseResource {

    private static final int LONGEST_PAGE = 500;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FindingsNow findings;
    private final FactsHolder facts;
    private final WhyViews whyViews;

    DatabaseResource(
            Evaluations evaluations, Lookout lookout, FindingsNow findings, FactsHolder facts, WhyViews whyViews) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.findings = findings;
        this.facts = facts;
        this.whyViews = whyViews;
    }

    @GET
    public DatabaseView database(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide one = evaluations.one(id, view);
        Evaluation e = WhyViews.computed(one);
        Instant notedBy = Lookout.looksBack(asOf) ? view.asOf() : lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            List<Note> notes = NotesResource.at(snapshot, id, notedBy);
            return new DatabaseViews(one.fleet(), view).view(one, e, findings.of(one, e), notes, snapshot);
        }
    }

    /**
     * Available copies, newest first.
     *
     * @param kinds kinds to list, separated by commas; absent: all
     * @param verdict the verdict to list; absent: all
     */
    @GET
    @Path("/backups")
    public BackupPage backups(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period,
            @QueryParam("kinds") @Nullable String kinds,
            @QueryParam("verdict") @Nullable String verdict,
            @QueryParam("offset") @DefaultValue("0") int offset,
            @QueryParam("limit") @DefaultValue("100") int limit) {
        if (offset < 0 || limit < 1 || limit > LONGEST_PAGE) {
            throw new BadRequest("limit", "is not from 1 to " + LONGEST_PAGE + ", or offset is negative");
        }
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide one = evaluations.one(id, view);
        Evaluation e = WhyViews.computed(one);
        List<String> wanted = kinds == null || kinds.isEmpty() ? List.of() : Arrays.asList(kinds.split(","));
        return new DatabaseViews(one.fleet(), view)
                .page(
                        e,
                        r -> (wanted.isEmpty()
                                        || wanted.contains(e.history()
                                                .kind(e.retention().backup(r))
                                                .word()))
                                && (verdict == null
                                        || verdict.isEmpty()
                                        || e.retention().verdict(r).word().equals(verdict)),
                        offset,
                        limit);
    }

    /**
     * Why a figure or verdict is as it is.
     *
     * @param about age, grade, breach, gap, copy, slot or cadence
     * @param hazard of an age or breach: mishap, siteLoss or sabotage
     * @param position of a gap: the first missing position
     * @param lineage of a gap; absent: the first
     * @param stream of a gap or of cadence; absent: the first
     * @param schedule of a slot or of cadence
     * @param at when the breach, slot or stretch without logs begins
     * @param backup of a copy: the backup
     * @param store of a copy: the store it lies in
     */
    @GET
    @Path("/why")
    public WhyView why(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period,
            @QueryParam("about") @Nullable String about,
            @QueryParam("hazard") @DefaultValue("mishap") String hazard,
            @QueryParam("position") @DefaultValue("0") long position,
            @QueryParam("lineage") @Nullable String lineage,
            @QueryParam("stream") @Nullable String stream,
            @QueryParam("schedule") @DefaultValue("") String schedule,
            @QueryParam("at") @Nullable String at,
            @QueryParam("backup") @DefaultValue("") String backup,
            @QueryParam("store") @DefaultValue("") String store) {
        return whyViews.why(id, asOf, period, about, hazard, position, lineage, stream, schedule, at, backup, store);
    }
}
