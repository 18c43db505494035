package firth.server.people;

import firth.server.platform.Roles;
import firth.server.platform.Who;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;

/** Who may do what, for administrators. */
@Path("/api/people")
@RolesAllowed(Roles.ADMINISTRATOR)
public class PeopleResource {

    private final Directory directory;
    private final Who who;

    PeopleResource(Directory directory, Who who) {
        this.directory = directory;
        this.who = who;
    }

    @GET
    public PeopleView all() {
        return directory.view();
    }

    /** States a person; whoever may not sign in any more keeps their place in the record. */
    @PUT
    @Path("/{id}")
    public void put(@PathParam("id") String id, PeopleView.PersonWritten said) {
        directory.put(id, said, who.id());
    }

    /** Makes a token for a program; its secret is in this answer and nowhere else. */
    @POST
    @Path("/tokens")
    public PeopleView.TokenMade make(PeopleView.TokenWritten said) {
        return directory.make(said, who.id());
    }

    @DELETE
    @Path("/tokens/{token}")
    public void revoke(@PathParam("token") String token) {
        directory.revoke(token, who.id());
    }
}
