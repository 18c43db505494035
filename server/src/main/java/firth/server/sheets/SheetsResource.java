package firth.server.sheets;

import firth.server.platform.ListPart;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.SearchWords;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Recovery sheets. */
@Path("/api/sheets")
@RolesAllowed(Roles.VIEWER)
public class SheetsResource {

    private final Sheets sheets;

    SheetsResource(Sheets sheets) {
        this.sheets = sheets;
    }

    /** Those of sites, and a stretch of those of databases. */
    @GET
    public SheetsView all(@QueryParam("words") @Nullable String words, @BeanParam ListPart part) {
        return sheets.view(SearchWords.of(words), part);
    }

    /** Writes them now. */
    @POST
    @RolesAllowed(Roles.OPERATOR)
    public SheetsView write(@BeanParam ListPart part) {
        sheets.write();
        return sheets.view(SearchWords.of(null), part);
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
