package firth.core.forecast;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Piece;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.retention.Retention;
import firth.core.retention.RetentionRules;
import firth.core.retention.Verdict;
import firth.core.time.Spans;
import java.time.Instant;
import java.util.BitSet;

/** What can be restored now and no rule keeps (docs/foresight.md, "What rules keep"). */
public final class Unkept {

    private Unkept() {}

    /**
     * Moments that can be restored now, and could not any more if everything were gone that no rule needs.
     *
     * @param fleet with the policies that are to be judged by
     * @return in milliseconds; a moment that stands alone is a stretch of one
     */
    public static Spans of(DatabaseFacts facts, Fleet fleet, Instant now) {
        History history = facts.history();
        Availability availability = new Availability(facts.database(), fleet, history, now.toEpochMilli());
        HazardCover cover = cover(history, availability);
        Retention kept = RetentionRules.judge(
                facts.database(),
                history,
                availability,
                cover,
                facts.database().clock(),
                fleet.versionAt(facts.database(), now),
                facts.holds());
        BitSet unneeded = new BitSet();
        for (int k = 0; k < kept.size(); k++) {
            if (kept.verdict(k) != Verdict.NEEDED) {
                unneeded.set(kept.copy(k));
            }
        }
        HistoryBuilder out = History.of(facts.database()).expect(history.size());
        History left = out.addAll(history, c -> !unneeded.get(c), i -> {}).build();
        return moments(cover)
                .without(moments(cover(left, new Availability(facts.database(), fleet, left, now.toEpochMilli()))));
    }

    private static HazardCover cover(History history, Availability availability) {
        return HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP);
    }

    /** The last of each piece is among them. */
    private static Spans moments(HazardCover cover) {
        Spans out = Spans.NONE;
        for (Piece p : cover.restorable()) {
            out = out.or(Spans.of(p.from().toEpochMilli(), p.to().toEpochMilli() + 1));
        }
        return out;
    }
}
