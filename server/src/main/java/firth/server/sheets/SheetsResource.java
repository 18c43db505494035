package firth.server.sheets;

import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** Recovery sheets. */
@Path("/api/sheets")
@RolesAllowed(Roles.VIEWER)
public class SheetsResource {

    private final Sheets sheets;

    SheetsResource(Sheets sheets) {
        this.sheets = sheets;
    }

    @GET
    public SheetsView all() {
        return sheets.view();
    }

    /** Writes them now. */
    @POST
    @RolesAllowed(Roles.OPERATOR)
    public SheetsView write() {
        return sheets.write();
    }

    /** One as a page or as plain text. */
    @GET
    @Path("/{name}.{form}")
    public Response one(@PathParam("name") String name, @PathParam("form") String form) {
        Optional<String> text = switch (form) {
            case "html", "txt" -> sheets.content(name, form);
            default -> Optional.<String>empty();
        };
        String type = form.equals("html") ? MediaType.TEXT_HTML : MediaType.TEXT_PLAIN;
        return Response.ok(
                        text.orElseThrow(() -> new NotFound("There is no sheet " + name + "." + form + " yet."))
                                .getBytes(StandardCharsets.UTF_8),
                        type + ";charset=UTF-8")
                .build();
    }
}
