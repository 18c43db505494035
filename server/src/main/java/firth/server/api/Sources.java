package firth.server.api;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Where facts come from and how new they are. */
public record Sources(
        Instant now,
        Instant newest,
        @Schema(nullable = true) Instant oldest,
        List<SourceView> sources) {

    public record SourceView(
            String name,
            Instant received,
            @Schema(nullable = true) Instant newestFact) {}
}
