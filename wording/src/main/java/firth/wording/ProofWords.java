package firth.wording;

import firth.core.purge.Flaw;
import firth.core.purge.Flaw.BackupUseless;
import firth.core.purge.Flaw.CopyNeeded;
import firth.core.purge.Flaw.NewestMoves;
import firth.core.purge.Flaw.NothingToRestore;
import firth.core.purge.Flaw.PromisedReachTorn;
import firth.core.purge.Flaw.RoleReachTorn;
import java.time.Instant;

/** Why a purge is not safe, in words. */
public final class ProofWords {

    /** Why nothing goes of a database of which nothing can be restored, though no rule needs anything of it. */
    public static final String NOTHING_TO_RESTORE =
            "nothing of it can be restored: what is left may be what a copy on its way needs";

    private ProofWords() {}

    /** What a purge would harm, as part of a sentence. */
    public static String of(Flaw flaw) {
        if (flaw instanceof CopyNeeded n) {
            return n.backup() + " in " + n.store() + " is needed: " + String.join(", ", n.reasons());
        }
        if (flaw instanceof NothingToRestore) {
            return NOTHING_TO_RESTORE;
        }
        if (flaw instanceof NewestMoves m) {
            return "the newest moment that can be restored would be "
                    + m.after().map(Instant::toString).orElse("none") + " instead of "
                    + m.before().map(Instant::toString).orElse("none");
        }
        if (flaw instanceof PromisedReachTorn t) {
            return "from " + t.from() + " to " + t.to() + " not every moment could be restored any more after "
                    + Wording.disaster(t.hazard()) + ", though so long a reach is promised";
        }
        if (flaw instanceof RoleReachTorn t) {
            return "from " + t.from() + " to " + t.to() + ", which copies in role "
                    + t.role().word() + " restore, not every moment could be restored any more";
        }
        return ((BackupUseless) flaw).backup() + ", which is needed, would restore nothing any more";
    }

    /** Why a log that no rule needs is not purged yet. */
    public static String follows(String awaited) {
        return "it follows " + awaited + ", whose own logs or parents are still on their way";
    }
}
