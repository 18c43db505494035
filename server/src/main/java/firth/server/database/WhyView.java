package firth.server.database;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Why something is as Firth says. */
public record WhyView(String title, List<Phrase> answer, List<FactView> facts, String rule, String section) {

    /** Words, or a moment or a duration in seconds within the sentence. */
    public record Phrase(
            @Schema(nullable = true) String words,
            @Schema(nullable = true) Instant moment,
            @Schema(nullable = true) Double seconds) {}

    public record FactView(
            String label,
            @Schema(nullable = true) String id,
            @Schema(nullable = true) Instant at,
            String note) {}
}
