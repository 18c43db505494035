package firth.server.database;

import java.time.Instant;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Something that happened; without {@code at} there is nothing further.
 *
 * @param what began, ended, failed, landed, went or found-spoiled
 * @param of the kind and id of the backup or run
 * @param store where, if it is about one copy
 */
public record StepView(
        @Schema(nullable = true) @Nullable Instant at,
        @Schema(nullable = true) @Nullable String database,
        @Schema(nullable = true) @Nullable String name,
        @Schema(nullable = true) @Nullable String what,
        @Schema(nullable = true) @Nullable String of,
        @Schema(nullable = true) @Nullable String store) {}
