package firth.server.reports;

import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.time.Span;
import firth.exchange.Texts;
import firth.server.documents.Rendering;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reports: made when asked for, printed, exported and kept. */
@Path("/api/reports")
@RolesAllowed(Roles.VIEWER)
public class ReportResource {

    private final ReportMaker reporting;
    private final Reports reports;
    private final Rendering rendering;
    private final Lookout lookout;
    private final ObjectMapper json;

    ReportResource(ReportMaker reporting, Reports reports, Rendering rendering, Lookout lookout, ObjectMapper json) {
        this.reporting = reporting;
        this.reports = reports;
        this.rendering = rendering;
        this.lookout = lookout;
        this.json = json;
    }

    private ReportScope scope(
            @Nullable String by,
            @Nullable String of,
            @Nullable String from,
            @Nullable String to,
            @Nullable String asOf) {
        Instant begin = instant("from", from);
        Instant end = instant("to", to);
        if (!begin.isBefore(end)) {
            throw new BadRequest("to", "is not after from");
        }
        Instant moment = Lookout.looksBack(asOf)
                ? instant("asOf", asOf)
                : lookout.view(asOf, "").asOf();
        return new ReportScope(by == null ? "fleet" : by, of == null ? "" : of, new Span(begin, end), moment);
    }

    private static Instant instant(String name, @Nullable String text) {
        return Texts.instant(text == null ? "" : text)
                .orElseThrow(() -> new BadRequest(name, "is not an RFC 3339 instant such as 2026-11-01T00:00:00Z"));
    }

    /**
     * A report as a page for A4, a table of values, or JSON.
     *
     * @param most how many rows of each table the page has, 1 or more; absent: all
     */
    @GET
    @Path("/made/report.{form}")
    public Response made(
            @PathParam("form") String form,
            @QueryParam("by") @Nullable String by,
            @QueryParam("of") @Nullable String of,
            @QueryParam("from") @Nullable String from,
            @QueryParam("to") @Nullable String to,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("most") @Nullable Integer most)
            throws IOException {
        return written(reporting.report(scope(by, of, from, to, asOf)), form, rows(most));
    }

    /** Those that were kept, the newest first. */
    @GET
    public List<ReportView.KeptReport> all() {
        return reports.all();
    }

    /** Keeps a report with the as-of it is made with. */
    @POST
    @RolesAllowed(Roles.OPERATOR)
    public ReportView.KeptReport keep(
            @QueryParam("by") @Nullable String by,
            @QueryParam("of") @Nullable String of,
            @QueryParam("from") @Nullable String from,
            @QueryParam("to") @Nullable String to,
            @QueryParam("asOf") @Nullable String asOf) {
        return reports.keep(scope(by, of, from, to, asOf));
    }

    @GET
    @Path("/kept/{id}.{form}")
    public Response kept(
            @PathParam("id") String id, @PathParam("form") String form, @QueryParam("most") @Nullable Integer most)
            throws IOException {
        return written(reports.one(id), form, rows(most));
    }

    private static int rows(@Nullable Integer most) {
        if (most != null && most < 1) {
            throw new BadRequest("most", "is to be 1 or more");
        }
        return most == null ? Integer.MAX_VALUE : most;
    }

    /** Makes a kept report again, and says whether it is the same. */
    @POST
    @Path("/kept/{id}/again")
    public ReportView.Again again(@PathParam("id") String id) {
        return reports.again(id);
    }

    private Response written(ReportView report, String form, int most) throws IOException {
        return switch (form) {
            case "html" -> answer(rendering.html(ReportDocument.sheet(report, most)), MediaType.TEXT_HTML);
            case "md" -> answer(rendering.markdown(ReportDocument.sheet(report, most)), "text/markdown");
            case "csv" -> answer(ReportValues.csv(report), "text/csv");
            case "json" -> answer(json.writeValueAsString(report), MediaType.APPLICATION_JSON);
            default -> throw new NotFound("A report is there as html, md, csv or json.");
        };
    }

    private static Response answer(String text, String type) {
        return Response.ok(text.getBytes(StandardCharsets.UTF_8), type + ";charset=UTF-8")
                .build();
    }
}
