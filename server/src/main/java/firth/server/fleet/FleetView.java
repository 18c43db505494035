package firth.server.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The databases there are, and those nobody enrolled.
 *
 * @param databases how many there are
 * @param found how many of them are asked for
 * @param rows a stretch of those: who needs somebody first, then by name
 * @param unenrolled a few of the names that stand in no list
 * @param unenrolledAll how many such names there are
 */
public record FleetView(
        Instant now, int databases, int found, List<FleetRow> rows, List<Unenrolled> unenrolled, int unenrolledAll) {

    /**
     * One database as it stands now.
     *
     * @param attention what about it needs somebody: no-policy, unknown-policy, two-rules, clone
     * @param rules the standing rules it falls under, the one that counts first
     * @param namesake where another was seen under its name
     */
    public record FleetRow(
            String id,
            String name,
            String engine,
            String site,
            String host,
            String system,
            String zone,
            String owner,
            String identity,
            Map<String, String> labels,
            @Schema(nullable = true) @Nullable String policy,
            @Schema(nullable = true) @Nullable String route,
            @Schema(nullable = true) @Nullable String standbyOf,
            Instant inServiceFrom,
            @Schema(nullable = true) @Nullable Instant retired,
            boolean stopped,
            List<String> attention,
            List<String> rules,
            @Schema(nullable = true) @Nullable Seen namesake,
            ReadySummary readiness) {}

    /** How a database's readiness stands: ready, waiting, unknown or not-ready, and how many facts are the last two. */
    public record ReadySummary(String state, int lacking, int unknown) {}

    /** A database's readiness, fact by fact. */
    public record ReadyView(String id, String name, Instant now, String state, List<CheckView> checks) {}

    /**
     * One fact.
     *
     * @param item logs, rights, processes, scheduler, versions, destination, apart, log-disk, backup, names or components
     * @param state ready, waiting, unknown or not-ready
     * @param source who said so; null where nobody did
     */
    public record CheckView(
            String item,
            String state,
            String text,
            @Schema(nullable = true) @Nullable String source,
            @Schema(nullable = true) @Nullable Instant at) {}

    /** Where and when something was seen. */
    public record Seen(String host, String identity, Instant at) {}

    /**
     * A name that stands in no list: seen on a host, or known from records alone.
     *
     * @param near an enrolled database whose name hardly differs: perhaps it was meant
     */
    public record Unenrolled(
            String name,
            String engine,
            boolean fromRecords,
            @Schema(nullable = true) @Nullable String near,
            @Schema(nullable = true) @Nullable Seen seen) {}

    /**
     * Databases a table says, compared with how they were stated last.
     *
     * @param unknown texts that name no site, route, policy or database, each once
     */
    public record ComparedTable(List<ComparedDatabase> databases, List<UnknownName> unknown) {}

    /**
     * One of them.
     *
     * @param manner new, changed, unchanged or refused
     * @param before as it was stated last; null where it is new
     * @param field why it is refused: which of its fields, and the reason
     */
    public record ComparedDatabase(
            String id,
            String manner,
            @Schema(nullable = true) @Nullable Map<String, Object> before,
            List<ChangedField> changes,
            String field,
            String reason) {}

    /** A field, before and after; empty where nothing was, or would be, said. */
    public record ChangedField(String field, String before, String after) {}

    /** A text of a field that names nothing, or more than one thing, and in how many rows it stands. */
    public record UnknownName(String field, String text, int rows) {}

    public record NamedDatabase(String id, String name) {}

    /**
     * Who would fall under which of some standing rules.
     *
     * @param first by rule, how many databases fall under it before any other
     */
    public record FallsView(List<FallsGroup> groups, Map<String, Integer> first) {}

    /**
     * Databases that would fall under rules alike.
     *
     * @param divided whether two rules would give them different policies
     * @param rules whether they fall under any rule
     * @param wouldFollow the policy they would follow; null: none
     * @param databases how many they are
     * @param some the first of them by id
     */
    public record FallsGroup(
            boolean divided,
            boolean rules,
            @Schema(nullable = true) @Nullable String wouldFollow,
            int databases,
            List<Falls> some) {}

    /** Which rules a database would fall under, and what it follows now. */
    public record Falls(
            String database,
            String name,
            List<String> rules,
            @Schema(nullable = true) @Nullable String policy) {}

    /** A record as the exchange format writes it. */
    public record Written(Map<String, Object> document) {}
}
