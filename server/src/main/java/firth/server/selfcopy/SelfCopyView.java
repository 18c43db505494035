package firth.server.selfcopy;

import java.time.Instant;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * How safe Firth's own facts are. Durations in seconds.
 *
 * @param promised how often a copy is to be written
 * @param trouble why the last try failed; empty where it did not
 */
public record SelfCopyView(
        @Schema(nullable = true) @Nullable Instant newest,
        @Schema(nullable = true) @Nullable Double age,
        double promised,
        String directory,
        int copies,
        long bytes,
        String trouble) {}
