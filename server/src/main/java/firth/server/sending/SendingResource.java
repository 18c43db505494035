package firth.server.sending;

import firth.core.findings.Finding;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.Arrays;

/** Who is told of what. */
@Path("/api/sending")
@RolesAllowed(Roles.VIEWER)
public class SendingResource {

    private static final int SHOWN = 100;

    private final SendLists lists;
    private final Sending sending;
    private final MessageDelivery post;
    private final FactsHolder facts;

    SendingResource(SendLists lists, Sending sending, MessageDelivery post, FactsHolder facts) {
        this.lists = lists;
        this.sending = sending;
        this.post = post;
        this.facts = facts;
    }

    @GET
    public SendingView view() {
        return new SendingView(
                post.sendsMail(),
                post.from(),
                Arrays.stream(Finding.Severity.values())
                        .map(Finding.Severity::word)
                        .toList(),
                lists.all().stream()
                        .map(k -> SendLists.with(k.list(), k.list().id(), ""))
                        .toList(),
                facts.store().outbox().newest(SHOWN).stream()
                        .map(m -> new SendingView.Sent(
                                m.id(),
                                m.list(),
                                m.way(),
                                m.title(),
                                m.made(),
                                m.state(),
                                m.tries(),
                                m.state().equals("waiting") ? m.next() : null,
                                m.told()))
                        .toList());
    }

    /** States a list. */
    @PUT
    @Path("/lists/{id}")
    @RolesAllowed(Roles.PLANNER)
    public SendingView.SendList put(@PathParam("id") String id, SendingView.SendList list) {
        return lists.put(id, list);
    }

    @DELETE
    @Path("/lists/{id}")
    @RolesAllowed(Roles.PLANNER)
    public void remove(@PathParam("id") String id) {
        lists.remove(id);
    }

    /** What events to a list are signed with, in base64. */
    @GET
    @Path("/lists/{id}/secret")
    @RolesAllowed(Roles.PLANNER)
    public String secret(@PathParam("id") String id) {
        return known(id).list().secret();
    }

    /** Sends something to a list now. */
    @POST
    @Path("/lists/{id}/try")
    @RolesAllowed(Roles.PLANNER)
    public SendingView.Tried tryOut(@PathParam("id") String id) {
        return sending.tryOut(known(id).list());
    }

    private SendLists.Known known(String id) {
        return lists.one(id).orElseThrow(() -> new NotFound("There is no list " + id + "."));
    }
}
