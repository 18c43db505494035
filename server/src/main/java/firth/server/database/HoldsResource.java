package firth.server.database;

import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hold;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/** What people keep whatever the policy says: a backup, or what restores a moment. */
@Path("/api/databases/{id}/holds")
@RolesAllowed(Roles.VIEWER)
public class HoldsResource {

    private static final int LONGEST = 1_000;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final ByHand byHand;
    private final Who who;

    HoldsResource(Evaluations evaluations, Lookout lookout, ByHand byHand, Who who) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.byHand = byHand;
        this.who = who;
    }

    /**
     * Places a hold: on a backup that is there by the clock, or on a moment that can be restored. It is in force from the newest fact
     * on, which is never later than the clock, for that is where pages stand.
     */
    @POST
    @RolesAllowed(Roles.KEEPER)
    public void place(@PathParam("id") String id, DatabaseView.HoldWritten hold) {
        Instant now = lookout.now();
        Instant from = lookout.standsAt();
        if (hold.reason().isBlank() || hold.reason().length() > LONGEST) {
            throw new BadRequest("reason", "is not of 1 to " + LONGEST + " characters: why is it kept?");
        }
        if (hold.until() != null && !hold.until().isAfter(now)) {
            throw new BadRequest("until", "is not in the future: how long is it kept?");
        }
        if ((hold.backup() == null) == (hold.moment() == null)) {
            throw new BadRequest("backup", "or moment is to be given, and not both");
        }
        Evaluation e = evaluations.one(id, lookout.present()).answers().get(0);
        if (hold.backup() != null) {
            checkThere(e, hold.backup());
        } else {
            checkRestorable(e, hold.moment());
        }
        byHand.take(StatedRecords.of(new Hold(
                "hold:" + UUID.randomUUID(),
                Optional.ofNullable(hold.backup()),
                hold.moment() == null ? Optional.empty() : Optional.of(id),
                Optional.ofNullable(hold.moment()),
                hold.reason().strip(),
                who.name(),
                Optional.of(from),
                Optional.ofNullable(hold.until()))));
    }

    private static void checkThere(Evaluation e, String backup) {
        boolean there = false;
        for (int r = 0; r < e.retention().size() && !there; r++) {
            there = e.history().id(e.retention().backup(r)).equals(backup);
        }
        if (!there) {
            throw new BadRequest("backup", "is not a backup of " + e.database().id() + " of which a copy is left");
        }
    }

    private static void checkRestorable(Evaluation e, Instant moment) {
        for (Piece p : e.mishap().restorable()) {
            if (!moment.isBefore(p.from()) && !moment.isAfter(p.to())) {
                return;
            }
        }
        throw new BadRequest("moment", "cannot be restored, so that there is nothing to keep for it");
    }

    /** Lifts a hold: from the newest fact on rules alone decide. It stays on record, and where one looks back it is still in force. */
    @DELETE
    @Path("/{hold}")
    @RolesAllowed(Roles.KEEPER)
    public void lift(@PathParam("id") String id, @PathParam("hold") String hold) {
        Lookout.View view = lookout.view("", "");
        Evaluations.Fleetwide one = evaluations.one(id, view);
        Hold known = new Holds(one, one.answers().get(0))
                .inForce().stream()
                        .filter(h -> h.id().equals(hold))
                        .findFirst()
                        .orElseThrow(() -> new NotFound("No hold " + hold + " on " + id + " is in force."));
        byHand.take(StatedRecords.of(new Hold(
                known.id(),
                known.backup(),
                known.database(),
                known.moment(),
                known.reason(),
                known.by(),
                known.from(),
                Optional.of(view.asOf()))));
    }
}
