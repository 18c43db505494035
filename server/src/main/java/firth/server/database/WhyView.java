package firth.server.database;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** Why something is as Firth says. */
public record WhyView(String title, List<Phrase> answer, List<FactView> facts, String rule, String section) {

    /** Words, or a moment or a duration in seconds within the sentence. */
    public record Phrase(
            @Schema(nullable = true) @Nullable String words,
            @Schema(nullable = true) @Nullable Instant moment,
            @Schema(nullable = true) @Nullable Double seconds) {}

    public record FactView(
            String label,
            @Schema(nullable = true) @Nullable String id,
            @Schema(nullable = true) @Nullable Instant at,
            String note) {}
}
