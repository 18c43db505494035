package firth.server.database;

import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.model.Note;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import firth.wording.explain.Explaining;
import firth.wording.explain.Explanation;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
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

    DatabaseResource(Evaluations evaluations, Lookout lookout, FindingsNow findings, FactsHolder facts) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.findings = findings;
    }

    @GET
    public DatabaseView database(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide one = evaluations.one(id, view);
        Evaluation e = computed(one);
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
        Evaluation e = computed(one);
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
        Evaluation e = computed(evaluations.one(id, lookout.view(asOf, period)));
        Explaining explaining = new Explaining(e);
        String ofLineage = lineage == null ? e.database().lineages().get(0).id() : lineage;
        String ofStream = stream == null ? e.database().streams().get(0) : stream;
        Optional<Explanation> why = switch (about == null ? "" : about) {
            case "age" -> Optional.of(explaining.age(hazard(hazard)));
            case "grade" -> Optional.of(explaining.grade());
            case "breach" -> explaining.breach(hazard(hazard), moment(at));
            case "gap" -> explaining.gap(ofLineage, ofStream, position);
            case "slot" -> explaining.slot(schedule, moment(at));
            case "cadence" -> explaining.cadence(schedule, ofStream, moment(at));
            case "copy" -> explaining.copy(backup, store);
            default -> throw new BadRequest("about", "is none of age, breach, cadence, copy, gap, grade, slot");
        };
        return why.map(DatabaseResource::view)
                .orElseThrow(() -> new NotFound("There is no such " + about + " as of this moment."));
    }

    private static Instant moment(@Nullable String at) {
        try {
            return Instant.parse(at == null ? "" : at);
        } catch (DateTimeParseException e) {
            throw new BadRequest("at", "is not a moment such as 2026-11-23T09:12:00Z");
        }
    }

    private static Hazard hazard(String field) {
        return Arrays.stream(Hazard.values())
                .filter(h -> h.field().equals(field))
                .findFirst()
                .orElseThrow(() -> new BadRequest("hazard", "is none of mishap, siteLoss, sabotage"));
    }

    private static Evaluation computed(Evaluations.Fleetwide one) {
        return one.answers().get(0);
    }

    private static WhyView view(Explanation e) {
        return new WhyView(
                e.title(),
                e.answer().stream()
                        .map(p -> new WhyView.Phrase(
                                p.words().orElse(null),
                                p.moment().orElse(null),
                                p.durationMs().map(ms -> ms / 1000.0).orElse(null)))
                        .toList(),
                e.facts().stream()
                        .map(f -> new WhyView.FactView(f.label(), f.id().orElse(null), f.at().orElse(null), f.note()))
                        .toList(),
                e.rule(),
                e.section());
    }
}
