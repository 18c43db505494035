package firth.server.week;

import firth.server.evaluation.Lookout;
import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import firth.server.policies.LookAhead;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import org.jspecify.annotations.Nullable;

/** A week of nights to come: what is to run when, and where it will not fit. */
@Path("/api/week")
@RolesAllowed(Roles.VIEWER)
public class WeekResource {

    private final LookAhead lookAhead;
    private final WeekViews weekViews;

    WeekResource(LookAhead lookAhead, WeekViews weekViews) {
        this.lookAhead = lookAhead;
        this.weekViews = weekViews;
    }

    /**
     * Seven nights.
     *
     * @param from the local date whose noon the first begins at; absent: today's, or yesterday's before noon
     * @param by store, site or policy with its id, for instance {@code store:quay-near}; absent: the busiest store
     */
    @GET
    public WeekView week(@QueryParam("from") @Nullable String from, @QueryParam("by") @Nullable String by) {
        return weekViews.week(from, by);
    }

    /**
     * Slots one by one, in the order in which they open.
     *
     * @param by store, site or policy with its id
     * @param start with {@code end} a stretch of time in which they run, if all goes as usual
     */
    @GET
    @Path("/slots")
    public WeekView.SlotList slots(
            @QueryParam("by") @DefaultValue("all:") String by,
            @QueryParam("start") @Nullable String start,
            @QueryParam("end") @Nullable String end,
            @BeanParam ListPart stretch) {
        return weekViews.slots(by, Lookout.instant("start", start), Lookout.instant("end", end), stretch);
    }

    /** What will miss its window within two months at the present growth. */
    @GET
    @Path("/soon")
    public WeekView.Soon soon() {
        return new WeekView.Soon(lookAhead.missesAsItIs());
    }
}
