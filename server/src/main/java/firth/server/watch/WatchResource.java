package firth.server.watch;

import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The morning watch: what is wrong, how the night went, what runs and what comes; and what is borne for a while. */
@Path("/api/watch")
@RolesAllowed(Roles.VIEWER)
public class WatchResource {

    private static final int MOST = 100;

    private final Accepting accepting;
    private final Morning morning;

    WatchResource(Accepting accepting, Morning morning) {
        this.accepting = accepting;
        this.morning = morning;
    }

    /** @param looked when this person last looked, an RFC 3339 instant; absent: never */
    @GET
    public Watch watch(
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period,
            @QueryParam("looked") @Nullable String looked) {
        return morning.watch(asOf, period, looked);
    }

    /**
     * Findings of one kind, in order: what {@link Watch.FoldedFindings} stands for.
     *
     * @param from how many to pass over
     * @param most 1 to 100
     */
    @GET
    @Path("/findings")
    public List<Watch.FindingView> findings(
            @QueryParam("code") @DefaultValue("") String code,
            @QueryParam("severity") @DefaultValue("") String severity,
            @QueryParam("from") @DefaultValue("0") int from,
            @QueryParam("most") @DefaultValue("50") int most,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        if (from < 0) {
            throw new BadRequest("from", "is less than 0");
        }
        if (most < 1 || most > MOST) {
            throw new BadRequest("most", "is not a number from 1 to " + MOST);
        }
        return morning.more(asOf, period, code, severity, from, most);
    }

    /** Notes that somebody looked at this moment, so that it can be said later what began and ended since. */
    @POST
    @Path("/looked")
    public void looked() {
        morning.looked();
    }

    /** Bears a finding until a moment. */
    @POST
    @Path("/accepts")
    @RolesAllowed(Roles.OPERATOR)
    public void accept(Watch.Bear bear) {
        accepting.accept(bear);
    }

    /** Calls an accept back: the finding stands among the others again. What was borne stays on record. */
    @DELETE
    @Path("/accepts/{id}")
    @RolesAllowed(Roles.OPERATOR)
    public void withdraw(@PathParam("id") String id) {
        accepting.withdraw(id);
    }
}
