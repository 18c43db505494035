package firth.core.findings;

import firth.core.findings.Finding.Severity;
import firth.core.model.BackupStore;
import firth.core.stocktake.Difference;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What taking stock of a store, and deleting in it, brought to light of one database. */
public final class StockFindings {

    private StockFindings() {}

    /**
     * Files that are gone though no list anybody approved had them.
     *
     * @param store its name
     * @param seen when they were last seen there; empty where they never were
     * @param found when they were found to be gone
     * @param backups the ids of the backups they are of, at least one
     */
    public static Finding deletedUnasked(
            String database, String store, Optional<Instant> seen, Instant found, List<String> backups) {
        return Finding.of(
                "deleted-unasked",
                Severity.RULE_BROKEN,
                database,
                database + "|" + store,
                Optional.of(found),
                new Detail.DeletedUnasked(store, seen, found, backups),
                backups);
    }

    /** Copies that are there and are not what the catalog believes: written over, cut short, not locked, or claimed twice. */
    public static Finding differs(
            String database, String store, Difference.Manner what, Instant found, List<String> backups, String told) {
        return Finding.of(
                "stock-" + what.word(),
                Severity.RULE_BROKEN,
                database,
                database + "|" + store + "|" + what.word(),
                Optional.of(found),
                new Detail.StockDiffers(store, what, backups, told),
                backups);
    }

    /**
     * Files that a store lists although its agent told they were gone.
     *
     * @param store its name
     * @param agent who told
     * @param told when it was first told of one of them
     * @param listed when the listing was begun
     * @param backups the ids of the backups they are of, at least one
     */
    public static Finding belied(
            String database, String store, String agent, Instant told, Instant listed, List<String> backups) {
        return Finding.of(
                "agent-belied",
                Severity.CONTRADICTION,
                database,
                database + "|" + store + "|" + agent,
                Optional.of(listed),
                new Detail.AgentBelied(store, agent, told, listed, backups),
                backups);
    }

    /**
     * A store its own agent cannot write to: whatever is to land there next will not.
     *
     * @param since when its agent first told so
     * @param trouble what the store said
     * @param databases the ids of those whose backups go there
     */
    public static Finding refuses(BackupStore store, Instant since, String trouble, List<String> databases) {
        return new Finding(
                "store-refuses",
                Severity.WILL_BREAK,
                store.id(),
                databases,
                Optional.of(since),
                new Detail.StoreRefuses(store.name(), trouble),
                List.of(),
                List.of());
    }

    /**
     * A store that runs full if nothing is purged, so that what comes after finds no room.
     *
     * @param full when it is
     * @param held bytes in it now
     * @param obsolete bytes of them that no rule needs
     * @param always whether it runs full within the time looked ahead though everything no rule needs is purged
     * @param databases the ids of those with copies in it
     */
    public static Finding fills(
            BackupStore store, Instant full, double held, double obsolete, boolean always, List<String> databases) {
        double capacity = store.capacityBytes().orElse(0);
        return new Finding(
                        "store-fills",
                        Severity.WILL_BREAK,
                        store.id(),
                        databases,
                        Optional.empty(),
                        new Detail.StoreFills(store.name(), capacity, held, obsolete, always),
                        List.of(),
                        List.of())
                .breaking(full);
    }
}
