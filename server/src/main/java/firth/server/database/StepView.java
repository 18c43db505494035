package firth.server.database;

import java.time.Instant;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * Something that happened; without {@code at} there is nothing further.
 *
 * @param what began, ended, failed, landed, went or found-spoiled
 * @param of the kind and id of the backup or run
 * @param store where, if it is about one copy
 */
public record StepView(
        @Schema(nullable = true) Instant at,
        @Schema(nullable = true) String database,
        @Schema(nullable = true) String name,
        @Schema(nullable = true) String what,
        @Schema(nullable = true) String of,
        @Schema(nullable = true) String store) {}
