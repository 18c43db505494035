package firth.server.runners;

import com.fasterxml.jackson.databind.JsonNode;
import firth.server.policies.PolicyDocuments;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What a runner on a host works by and what it is to do now (docs/runner.md).
 *
 * @param fleet where it was asked for, the databases on the host, their routes, stores and closures, as records of the exchange format: what it takes to go
 *     on while Firth is away
 */
public record RunnerWork(
        Instant now,
        String host,
        List<Served> policies,
        @Schema(implementation = Object[].class) List<JsonNode> fleet,
        List<Task> tasks) {

    /**
     * A policy in force for databases on the host.
     *
     * @param acknowledged the version the runner said it works by; absent: none yet
     */
    public record Served(
            String policy,
            int version,
            @Schema(nullable = true) @Nullable Integer acknowledged,
            List<String> databases,

            @Schema(implementation = PolicyDocuments.WrittenDocument.class)
            JsonNode document) {}

    /**
     * A run to start.
     *
     * @param run the id the run is to be reported under
     * @param backup the id its backup is to be reported under
     * @param trigger {@code schedule} or {@code hand}
     * @param until when the start window closes, where there is one
     * @param parent what it hangs from, where it hangs from anything
     * @param from by stream, where its logs go on
     * @param stores where to write, the first that takes it
     * @param copies where else it belongs
     */
    public record Task(
            String run,
            String backup,
            String database,
            String kind,
            String trigger,
            @Schema(nullable = true) @Nullable String schedule,
            Instant since,
            @Schema(nullable = true) @Nullable Instant until,
            @Schema(nullable = true) @Nullable String parent,
            String lineage,
            Map<String, Reached> from,
            List<String> stores,
            List<String> copies,
            double expectedSeconds,
            double expectedBytes,
            @Schema(nullable = true) @Nullable String by,
            @Schema(nullable = true) @Nullable String reason) {}

    /** How far the logs of a stream have been taken away. */
    public record Reached(long position, Instant time) {}

    /** That a runner works by a version from now on. */
    public record Acknowledged(int version) {}

    /**
     * A runner.
     *
     * @param silent whether it should have asked three times over
     * @param behind policies in force on the host of which it has another version, or none
     */
    public record RunnerView(String host, Instant heard, boolean silent, List<String> databases, List<String> behind) {}

    /** What taking a backup now would cost and give. */
    public record Offer(
            String kind,
            String store,
            String storeName,
            double seconds,
            double bytes,
            @Schema(nullable = true) @Nullable String parent,
            String gives) {}

    /** What can be started of a database, and whether anybody would. */
    public record Offers(
            String database,
            String name,
            @Schema(nullable = true) @Nullable String runner,
            List<Offer> offers) {}

    /** That a backup is wanted now. */
    public record Start(
            String kind,
            @Schema(nullable = true) @Nullable String store,
            String reason,
            @Schema(nullable = true) @Nullable String name,
            @Schema(nullable = true) @Nullable Instant keepUntil) {}

    /** The run that will carry it out. */
    public record OrderedRun(String run) {}
}
