package firth.server.runners;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.List;

/** What runners ask: which policies they serve and what is due (docs/runner.md). What they have to tell comes by import. */
@Path("/api/runners")
@RolesAllowed(Roles.VIEWER)
public class RunnerResource {

    private final TaskHanding taskHanding;

    RunnerResource(TaskHanding taskHanding) {
        this.taskHanding = taskHanding;
    }

    /** Every runner that was ever heard. */
    @GET
    public List<RunnerWork.RunnerView> runners() {
        return taskHanding.runners();
    }

    /**
     * What a runner works by and what it is to do now. Asking counts as a sign of life.
     *
     * @param every how often it asks, an ISO 8601 duration from a second to a day
     * @param whole whether it wants to know what it takes to go on while Firth is away
     */
    @POST
    @Path("/{host}/work")
    @RolesAllowed({Roles.RUNNER, Roles.OPERATOR})
    public RunnerWork work(
            @PathParam("host") String host,
            @QueryParam("every") @DefaultValue("PT1M") String every,
            @QueryParam("fleet") boolean whole) {
        return taskHanding.work(host, every, whole);
    }

    /** A runner works by a version of a policy from now on. */
    @PUT
    @Path("/{host}/policies/{policy}")
    @RolesAllowed({Roles.RUNNER, Roles.OPERATOR})
    public void acknowledge(
            @PathParam("host") String host, @PathParam("policy") String policy, RunnerWork.Acknowledged said) {
        taskHanding.acknowledge(host, policy, said);
    }
}
