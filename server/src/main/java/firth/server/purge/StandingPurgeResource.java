package firth.server.purge;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;

/** What goes by itself of what is obsolete: what it would have done, proposing it, putting it in force and withdrawing it. */
@Path("/api/standing-purges")
@RolesAllowed(Roles.VIEWER)
public class StandingPurgeResource {

    private final StandingViews views;
    private final StandingTrials trials;
    private final StandingDecisions decisions;
    private final StandingNights nights;

    StandingPurgeResource(
            StandingViews views, StandingTrials trials, StandingDecisions decisions, StandingNights nights) {
        this.views = views;
        this.trials = trials;
        this.decisions = decisions;
        this.nights = nights;
    }

    /** Every policy with what goes by itself, what waits for a second person, and the nights of two weeks. */
    @GET
    public List<StandingView.StandingRow> all() {
        return views.all();
    }

    /** What it would have done in the last thirty nights. Nothing is proposed by asking this. */
    @POST
    @Path("/trial")
    public StandingView.Trial trial(StandingView.Terms terms) {
        return trials.of(terms);
    }

    /** Proposes it for a second person to put in force. */
    @POST
    @RolesAllowed(Roles.KEEPER)
    public StandingView.Proposed propose(StandingView.StandingProposal proposal) {
        return new StandingView.Proposed(decisions.propose(proposal));
    }

    @POST
    @Path("/{num}/agree")
    @RolesAllowed(Roles.APPROVER)
    public void agree(@PathParam("num") long num, StandingView.StandingSeen seen) {
        decisions.agree(num, seen.hash());
        nights.soon();
    }

    @POST
    @Path("/{num}/withdraw")
    @RolesAllowed(Roles.KEEPER)
    public void withdraw(@PathParam("num") long num) {
        decisions.withdraw(num);
        nights.soon();
    }
}
