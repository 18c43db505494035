package firth.server.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** Every database there is, those nobody enrolled, and the rules that give new ones a policy. */
public record FleetView(
        Instant now,
        List<FleetRow> rows,
        List<Unenrolled> unenrolled,
        List<NamedDatabase> policies,
        List<RouteView> routes,
        List<NamedDatabase> stores,
        List<NamedDatabase> sites,
        List<Standing> standing) {

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
     * @param item logs, rights, processes, scheduler, versions, destination, apart, log-disk, backup or names
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

    public record NamedDatabase(String id, String name) {}

    /** Where data backups and logs go, alternates in order, and where each is copied to; ids of stores. */
    public record RouteView(String id, String name, List<String> data, List<String> log, List<String> copies) {}

    /** A standing rule. */
    public record Standing(
            String id,
            int order,
            Map<String, String> labels,
            @Schema(nullable = true) @Nullable String engine,
            @Schema(nullable = true) @Nullable String site,
            @Schema(nullable = true) @Nullable String system,
            @Schema(nullable = true) @Nullable String name,
            @Schema(nullable = true) @Nullable String policy,
            @Schema(nullable = true) @Nullable String route,
            boolean enabled) {}

    /** Which rules a database would fall under, and what it follows now. */
    public record Falls(
            String database,
            String name,
            List<String> rules,
            boolean divided,
            @Schema(nullable = true) @Nullable String policy,
            @Schema(nullable = true) @Nullable String wouldFollow) {}

    /** A record as the exchange format writes it. */
    public record Written(Map<String, Object> document) {}
}
