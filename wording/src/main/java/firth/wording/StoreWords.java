package firth.wording;

import firth.core.findings.Detail;
import firth.core.stocktake.Clue;
import firth.core.stocktake.Difference;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;

/** What taking stock of a store, deleting in it and filling it brought to light, in words. */
public final class StoreWords {

    private static final ZoneId UTC = ZoneId.of("UTC");

    private StoreWords() {}

    static Said deletedUnasked(Detail.DeletedUnasked d) {
        List<String> backups = d.backups();
        return new Said(
                (backups.size() == 1 ? "a file was" : backups.size() + " files were") + " deleted from " + d.store()
                        + " without an approved list",
                "Someone or something deleted " + named(backups) + " between "
                        + d.seen()
                                .map(StoreWords::at)
                                .orElse(backups.size() == 1 ? "the day it landed" : "the day each landed")
                        + " and " + at(d.found())
                        + ". No approved list has " + (backups.size() == 1 ? "it" : "them")
                        + "; cover is computed without " + (backups.size() == 1 ? "it." : "them."),
                "Find out what deletes files in " + d.store()
                        + ". A file that still exists elsewhere can be put back and adopted at the next stocktake.");
    }

    static Said stockDiffers(Detail.StockDiffers d) {
        List<String> backups = d.backups();
        String how = switch (d.manner()) {
            case LOCK -> "locked for less time than recorded in ";
            case CLAIMED -> "at a path another backup claims in ";
            default -> "not what was written in ";
        };
        return new Said(
                (backups.size() == 1 ? "a copy is " : backups.size() + " copies are ") + how + d.store(),
                "The stocktake found " + named(backups) + ": " + d.told() + ".",
                d.manner() == Difference.Manner.LOCK
                        ? "Lock it in the store, or the promise against sabotage rests on nothing."
                        : "Take another backup, and find out what writes to " + d.store() + ".");
    }

    static Said agentBelied(Detail.AgentBelied d) {
        boolean one = d.backups().size() == 1;
        return new Said(
                d.store() + " still has what " + d.agent() + " said was gone",
                d.agent() + " has reported since " + at(d.told()) + " that " + named(d.backups())
                        + (one ? " was" : " were")
                        + " deleted or missing. The listing of " + at(d.listed()) + " has "
                        + (one ? "the file." : "the files."),
                "Do not trust what " + d.agent()
                        + " reports until you know why. These files do not count for cover; the next list can delete them, or you can adopt them in the stocktake.");
    }

    static Said storeRefuses(Detail.StoreRefuses d) {
        return new Said(
                d.store() + " cannot be written to",
                "Its agent tried and failed: " + d.trouble()
                        + ". The next backups that should land there will not, and ages will grow.",
                "Make it writable again, or let backups go to another store.");
    }

    static Said storeFills(Detail.StoreFills d) {
        String purge = d.obsolete() > 0 ? "Purge the " + Wording.bytes(d.obsolete()) + " no rule needs" : "";
        return new Said(
                d.store() + (d.held() > d.capacity() ? " is full" : " runs full"),
                d.store() + " contains " + Wording.bytes(d.held()) + " of " + Wording.bytes(d.capacity())
                        + ". At the present pace, and if nothing is purged, there will then be no room for the next backup, and promises that rest on this store will break.",
                d.always()
                        ? (purge.isEmpty() ? "Give it more room" : purge + " and give it more room")
                                + ", or keep less there: purging alone is not enough."
                        : purge.isEmpty() ? "Give it more room." : purge + ".");
    }

    /** In which way catalog and store differ in a file, as part of a sentence. */
    public static String of(Clue clue) {
        if (clue instanceof Clue.NotListed) {
            return "the store lists no such file";
        }
        if (clue instanceof Clue.ClaimedToo c) {
            return c.backup() + " claims the same path";
        }
        if (clue instanceof Clue.OtherChecksum c) {
            return "its checksum is " + c.checksum();
        }
        if (clue instanceof Clue.OtherMembers c) {
            return c.there() == c.written()
                    ? "its files are as many as were written, but not of the same names and sizes"
                    : "it has " + c.there() + " files in place of " + c.written();
        }
        if (clue instanceof Clue.OtherSize c) {
            return "it has " + c.bytes() + " bytes";
        }
        if (clue instanceof Clue.ShorterLock c) {
            return c.until().map(u -> "it is locked until " + u + " only").orElse("it is not locked");
        }
        return clue instanceof Clue.BearsName c ? "it bears the name of " + c.backup() : "nobody knows it";
    }

    /** Stores serve databases of many zones. */
    private static String at(Instant moment) {
        return Wording.moment(moment, UTC);
    }

    private static String named(List<String> backups) {
        return backups.size() == 1
                ? backups.get(0)
                : backups.get(0) + " and " + (backups.size() - 1) + (backups.size() == 2 ? " other" : " others");
    }
}
