package firth.core.history;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.model.Copy;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;

/** What a second statement about a known fact changes, and what it cannot undo. */
class MergingTest {

    private static final Instant TEN = Instant.parse("2026-11-23T10:00:00Z");

    private static Copy copy(int landed, Integer lockedUntil, Integer gone, Integer found) {
        return new Copy(
                "n1",
                hour(landed),
                true,
                Optional.ofNullable(lockedUntil).map(MergingTest::hour),
                Optional.ofNullable(gone).map(MergingTest::hour),
                Optional.ofNullable(found).map(f -> new Spoilage(hour(f), Optional.empty())),
                OptionalDouble.empty(),
                "");
    }

    private static Instant hour(int h) {
        return TEN.plusSeconds(3600L * (h - 10));
    }

    @Test
    void anOldExportUndoesNothing() {
        Copy known = copy(10, 20, 12, 11);
        assertEquals(known, Merging.merge(known, copy(10, 15, null, null)));
        assertEquals(known, Merging.merge(known, copy(9, 30, 13, null)), "an earlier landing says nothing");
    }

    @Test
    void aLockOnlyGrows() {
        assertEquals(copy(10, 20, null, null), Merging.merge(copy(10, 15, null, null), copy(10, 20, null, null)));
    }

    @Test
    void aCopyThatLandedAfterItWasGoneIsANewOne() {
        assertEquals(copy(14, null, null, null), Merging.merge(copy(10, 20, 12, 11), copy(14, null, null, null)));
        assertEquals(copy(13, null, null, null), Merging.merge(copy(10, null, null, 11), copy(13, null, null, null)));
    }

    @Test
    void aLaterLandingThatIsNotANewOneIsACorrection() {
        assertEquals(copy(12, 20, 12, null), Merging.merge(copy(10, 20, 12, null), copy(12, null, null, null)));
    }

    @Test
    void aRunThatEndedDoesNotRunAgain() {
        Run ended = new Run("r", "d", Kind.FULL, TEN, Optional.of(hour(11)), Outcome.OK, Optional.empty(), "");
        Run running = new Run("r", "d", Kind.FULL, TEN, Optional.empty(), Outcome.RUNNING, Optional.empty(), "");
        assertEquals(ended, Merging.merge(ended, running));
        assertEquals(ended, Merging.merge(running, ended));
        Run failed = new Run("r", "d", Kind.FULL, TEN, Optional.of(hour(11)), Outcome.FAILED, Optional.empty(), "");
        assertEquals(failed, Merging.merge(ended, failed));
    }
}
