package firth.server.purge;

import firth.server.database.DatabaseView;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What may be deleted, why, and what that frees.
 *
 * @param asOf the moment it was judged at
 * @param stores those of the fleet, with what is obsolete in each
 * @param store the one looked at; null: all of them
 * @param databases those looked at, of which most is obsolete first; whoever asks for a list names them
 * @param others how many more have copies here that no rule asks for
 * @param otherBytes what is obsolete of theirs
 * @param rows a shelf for each database that has something in it
 * @param lines what no rule needs, a line a backup and one for all the logs of a database in a store
 * @param proofs for each database of which something is chosen
 * @param hash over what is chosen and its proof: whoever asks shows it, so that it is asked for what was seen
 * @param copies how many copies are chosen
 * @param bytes what they take up
 * @param levels what is held in each store now and when they are gone
 * @param lists that were asked for, the newest first: all that are not over, and the latest others
 */
public record PurgeView(
        Instant asOf,
        List<StoreChoice> stores,
        @Schema(nullable = true) @Nullable String store,
        List<String> databases,
        int others,
        double otherBytes,
        List<ShelfRow> rows,
        List<LineView> lines,
        List<ProofView> proofs,
        String hash,
        int copies,
        double bytes,
        List<Level> levels,
        List<ListRow> lists) {

    /** In the place of a store: the whole fleet. */
    public static final String ALL = "all";

    /** A store one may look at alone. */
    public record StoreChoice(String id, String name, String role, double obsoleteBytes, boolean agent) {}

    /** The shelf of a database in a store. Bytes are those that go. */
    public record ShelfRow(String database, String name, DatabaseView.Shelf shelf, double bytes) {}

    /**
     * Something no rule needs.
     *
     * @param key names it when it is left out
     * @param backup the backup's id; null where it is logs
     * @param count how many copies it stands for
     * @param from when the first of them was taken
     * @param to when the last was
     * @param why why no rule needs it
     * @param kept what keeps it all the same: locked, held; stay where it has to stay some time in its store; promised where a promise rests on
     *     it; shared where another lies at its place; coming where it follows a backup still on its way; stranded where nothing of its
     *     database can be restored; listed where a list has it already; null where nothing does and it may go
     * @param until when that ends
     * @param chosen whether it goes
     */
    public record LineView(
            String key,
            String database,
            String name,
            String store,
            String storeName,
            @Schema(nullable = true) @Nullable String backup,
            String kind,
            int count,
            Instant from,
            Instant to,
            double bytes,
            String verdict,
            String why,
            @Schema(nullable = true) @Nullable String kept,
            @Schema(nullable = true) @Nullable Instant until,
            boolean chosen) {}

    /**
     * That a database loses nothing that is promised.
     *
     * @param point the newest moment that can be restored, before as after
     * @param since from when on every moment that could be restored can be
     * @param pieces in how many stretches or moments
     * @param coveredSeconds how much time they cover
     * @param whole how many needed data backups stay usable
     * @param hazards what is promised after disasters; none where no reach is
     * @param flaws what would be harmed; empty where nothing would
     */
    public record ProofView(
            String database,
            String name,
            int copies,
            double bytes,
            @Schema(nullable = true) @Nullable Instant point,
            @Schema(nullable = true) @Nullable Instant since,
            int pieces,
            double coveredSeconds,
            int whole,
            List<HazardProof> hazards,
            List<String> flaws) {

        /** Lists that were asked for before promises under hazards were proved say nothing of them. */
        public ProofView {
            hazards = hazards == null ? List.of() : hazards;
        }
    }

    /**
     * That after a hazard for which an objective is promised every moment of the promised reach stays restorable, from the copies of
     * all roles together.
     */
    public record HazardProof(String hazard, Instant since, int pieces, double coveredSeconds) {}

    /** Bytes held in a store; its capacity where that is known. */
    public record Level(
            String store,
            String name,
            @Schema(nullable = true) @Nullable Double capacity,
            double before,
            double after) {}

    /** What becomes obsolete in one of the weeks to come, as the forecast has it. */
    public record Week(Instant from, Instant to, double bytes) {}

    /** A list in a line. */
    public record ListRow(
            String id,
            @Schema(nullable = true) @Nullable String store,
            String storeName,
            String state,
            String askedBy,
            Instant askedAt,
            String reason,
            int copies,
            double bytes) {}

    /**
     * What is chosen: everything that may go in a store, or in all, but for some lines.
     *
     * @param store null: the one in which most is obsolete
     * @param most of how many databases, those in which most is obsolete; at most 200; null: all
     *     where they are 40 or fewer, and else 6
     */
    public record Chosen(
            @Schema(nullable = true) @Nullable String store,
            List<String> leftOut,

            @Schema(nullable = true, minimum = "1", maximum = "200") @Nullable
            Integer most) {}

    /**
     * That a list is asked for.
     *
     * @param databases those that were looked at, at most 200; null: as where nobody says how many
     * @param hash of what was seen
     * @param asOf the moment at which that was judged
     */
    public record Asked(
            @Schema(nullable = true) @Nullable String store,
            List<String> leftOut,
            @Schema(nullable = true) @Nullable List<String> databases,
            String reason,
            String hash,
            Instant asOf) {}

    /** A list made. */
    public record Made(String id) {}

    /** That somebody approves a list, of which they saw this hash. */
    public record Approved(String hash) {}
}
