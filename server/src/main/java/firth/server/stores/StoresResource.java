package firth.server.stores;

import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;

/** What the stores hold, held and will hold. */
@Path("/api/stores")
@RolesAllowed(Roles.VIEWER)
public class StoresResource {

    private final StoreViews storeViews;

    StoresResource(StoreViews storeViews) {
        this.storeViews = storeViews;
    }

    /** All of them, near ones first. */
    @GET
    public StoresView all() {
        return storeViews.all();
    }

    /** One by database. */
    @GET
    @Path("/{store}")
    public StoresView.StoreDetail one(@PathParam("store") String id, @BeanParam ListPart stretch) {
        return storeViews.one(id, stretch);
    }

    /** What a forecast made thirty days ago would have said, and what came. */
    @GET
    @Path("/back-test")
    public StoresView.BackTest backTest() {
        return storeViews.backTest();
    }
}
