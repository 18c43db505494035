package firth.server.metrics;

import firth.server.platform.Roles;
import io.prometheus.metrics.expositionformats.OpenMetricsTextFormatWriter;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.core.Response;
import java.io.ByteArrayOutputStream;
import java.io.IOException;

/** What a monitoring system may watch, in OpenMetrics (docs/sending.md). */
@Path("/metrics")
@RolesAllowed(Roles.VIEWER)
public class MetricsResource {

    private final Figures figures;

    MetricsResource(Figures figures) {
        this.figures = figures;
    }

    @GET
    public Response metrics() throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        OpenMetricsTextFormatWriter writer = OpenMetricsTextFormatWriter.create();
        writer.write(bytes, figures.all());
        return Response.ok(bytes.toByteArray(), writer.getContentType()).build();
    }
}
