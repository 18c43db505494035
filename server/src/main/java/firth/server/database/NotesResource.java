package firth.server.database;

import firth.core.model.Note;
import firth.exchange.FleetFileReader;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** What people wrote about a database. */
@Path("/api/databases/{id}/notes")
@RolesAllowed(Roles.VIEWER)
public class NotesResource {

    private static final int LONGEST = 4_000;

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final ByHand byHand;
    private final Who who;

    NotesResource(Evaluations evaluations, FactsHolder facts, Lookout lookout, ByHand byHand, Who who) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.byHand = byHand;
        this.who = who;
    }

    /** Those about a database that stand at a moment, the newest first. */
    static List<Note> at(Snapshot snapshot, String database, Instant moment) {
        return all(snapshot, database).stream()
                .filter(n -> n.standsAt(moment))
                .sorted(Comparator.comparing(Note::at).reversed().thenComparing(Note::id))
                .toList();
    }

    private static List<Note> all(Snapshot snapshot, String database) {
        return snapshot.documents("note").stream()
                .map(text -> (Note) FleetFileReader.recordOf(text))
                .filter(n -> n.database().equals(database))
                .toList();
    }

    @POST
    @RolesAllowed(Roles.OPERATOR)
    public void write(@PathParam("id") String id, DatabaseView.NoteWritten note) {
        if (note.text().isBlank() || note.text().length() > LONGEST) {
            throw new BadRequest("text", "is not of 1 to " + LONGEST + " characters");
        }
        try (Snapshot snapshot = facts.store().read()) {
            if (!evaluations.fleet(snapshot).databases().containsKey(id)) {
                throw new NotFound("There is no database " + id + ".");
            }
        }
        byHand.take(StatedRecords.of(new Note(
                "note:" + UUID.randomUUID(), id, note.text().strip(), who.name(), lookout.now(), Optional.empty())));
    }

    /** Takes one back. It stays on record, and where one looks back it is still there. */
    @DELETE
    @Path("/{note}")
    @RolesAllowed(Roles.OPERATOR)
    public void withdraw(@PathParam("id") String id, @PathParam("note") String note) {
        try (Snapshot snapshot = facts.store().read()) {
            Note known = all(snapshot, id).stream()
                    .filter(n -> n.id().equals(note) && n.withdrawn().isEmpty())
                    .findFirst()
                    .orElseThrow(() -> new NotFound("There is no note " + note + " about " + id + "."));
            byHand.take(StatedRecords.of(
                    new Note(known.id(), id, known.text(), known.by(), known.at(), Optional.of(lookout.now()))));
        }
    }
}
