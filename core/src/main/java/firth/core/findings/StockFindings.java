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
                files(backups) + " gone from " + store + " on no approved list",
                "Somebody or something deleted " + named(backups) + " between "
                        + seen.map(Instant::toString).orElse("the day each landed") + " and " + found
                        + ". No list that was approved has "
                        + (backups.size() == 1 ? "it" : "them") + "; cover is judged without.",
                "Find out what deletes in " + store
                        + ". A file that is still somewhere can be put back and adopted by the next" + " stocktake.",
                backups);
    }

    /** Copies that are there and are not what the catalog believes: written over, cut short, not locked, or claimed twice. */
    public static Finding differs(
            String database, String store, Difference.Manner what, Instant found, List<String> backups, String told) {
        String how = switch (what) {
            case LOCK -> "not locked as long as believed in ";
            case CLAIMED -> "at a path another claims in ";
            default -> "not what was written in ";
        };
        return Finding.of(
                "stock-" + what.word(),
                Severity.RULE_BROKEN,
                database,
                database + "|" + store + "|" + what.word(),
                Optional.of(found),
                (backups.size() == 1 ? "a copy is " : backups.size() + " copies are ") + how + store,
                "The stocktake found " + named(backups) + ": " + told + ".",
                what == Difference.Manner.LOCK
                        ? "Lock it in the store, or the promise against sabotage rests on nothing."
                        : "Take a backup to have another, and find out what writes in " + store + ".",
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
                store + " still has what " + agent + " said was gone",
                agent + " told since " + told + " that " + named(backups) + (backups.size() == 1 ? " was" : " were")
                        + " deleted or missing. The listing of " + listed + " has "
                        + (backups.size() == 1 ? "the file." : "the files."),
                "Trust nothing " + agent
                        + " tells until you know why. Nothing of these files counts for cover; the next"
                        + " list can delete them, or adopt them in the stocktake.",
                backups);
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
        String purge = obsolete > 0 ? "Purge the " + Wording.bytes(obsolete) + " no rule needs" : "";
        return new Finding(
                        "store-fills",
                        Severity.WILL_BREAK,
                        store.id(),
                        databases,
                        Optional.empty(),
                        held > capacity ? store.name() + " is full" : store.name() + " runs full",
                        store.name() + " holds " + Wording.bytes(held) + " of " + Wording.bytes(capacity)
                                + ". At the pace backups come, and if nothing is purged, there is no room for the next one"
                                + " from then on, and what is promised of those that are kept there breaks.",
                        always
                                ? (purge.isEmpty() ? "Give it more room" : purge + " and give it more room")
                                        + ", or keep less there: purging alone is not enough."
                                : purge.isEmpty() ? "Give it more room." : purge + ".",
                        List.of(),
                        List.of())
                .breaking(full);
    }

    private static String files(List<String> backups) {
        return backups.size() == 1 ? "a file is" : backups.size() + " files are";
    }

    private static String named(List<String> backups) {
        return backups.size() == 1
                ? backups.get(0)
                : backups.get(0) + " and " + (backups.size() - 1) + (backups.size() == 2 ? " other" : " others");
    }
}
