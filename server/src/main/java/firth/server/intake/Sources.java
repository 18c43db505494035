package firth.server.intake;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Where facts come from and how new they are.
 *
 * @param reporting whether a program ever reported, so that pages stand at the clock
 * @param behind of how many databases pages show what held before a change, for it is still being worked out
 */
public record Sources(
        Instant now,
        boolean reporting,
        int behind,
        Instant newest,
        @Schema(nullable = true) @Nullable Instant oldest,
        List<SourceView> sources,
        List<Silent> silent) {

    /**
     * A host whose runner is silent: its databases may be older than anybody knows.
     *
     * @param since when its runner was last heard
     */
    public record Silent(
            String host, Instant since, @Nullable List<String> databases) {}

    public record SourceView(
            String name,
            Instant received,
            @Schema(nullable = true) @Nullable Instant newestFact) {}
}
