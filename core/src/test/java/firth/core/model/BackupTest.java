package firth.core.model;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;

/** A stream is known up to its last sign. */
class BackupTest {

    private static final Instant BEGAN = Instant.parse("2026-11-24T10:00:00Z");

    private static Backup log(boolean streamed) {
        Instant to = BEGAN.plus(Duration.ofHours(1));
        return new Backup(
                "l",
                "d",
                Kind.LOG,
                Optional.empty(),
                Optional.empty(),
                BEGAN,
                to,
                OptionalDouble.empty(),
                Optional.empty(),
                Map.of("main", new Positions(0, 100)),
                Optional.of(new Backup.LogTimes(BEGAN, to)),
                to,
                false,
                streamed,
                Duration.ZERO,
                Optional.empty(),
                List.of(),
                "");
    }

    @Test
    void whatIsStillToComeOfAStreamDoesNotCount() {
        Instant sign = BEGAN.plus(Duration.ofMinutes(20));
        Backup known = log(true).receivedUpTo(sign);
        assertEquals(Optional.of(new Backup.LogTimes(BEGAN, sign)), known.times());
        assertEquals(sign, known.ended());
        assertEquals(log(true).positions(), known.positions());
        Instant before = BEGAN.minusSeconds(5);
        assertEquals(
                Optional.of(new Backup.LogTimes(BEGAN, BEGAN)),
                log(true).receivedUpTo(before).times());
    }

    @Test
    void whatIsReceivedWholeAndWhatIsNoStreamIsAsItIs() {
        Backup whole = log(true);
        assertSame(whole, whole.receivedUpTo(BEGAN.plus(Duration.ofHours(1))));
        Backup file = log(false);
        assertSame(file, file.receivedUpTo(BEGAN));
    }
}
