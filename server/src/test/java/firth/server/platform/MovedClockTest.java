package firth.server.platform;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A trial moves the server's clock while it runs. */
class MovedClockTest {

    @TempDir
    private Path directory;

    private static void assertAhead(Duration by, Clock clock) {
        Duration off = Duration.between(Instant.now().plus(by), clock.instant()).abs();
        assertTrue(off.compareTo(Duration.ofSeconds(20)) < 0, "off by " + off);
    }

    @Test
    void isAheadByWhatTheFileSaysNow() throws IOException {
        Path ahead = Files.writeString(directory.resolve("ahead"), "PT0S\n");
        Clock clock = new ClockProducer().clock(Optional.of(ahead));
        assertAhead(Duration.ZERO, clock);
        Files.writeString(ahead, "PT30M");
        assertAhead(Duration.ofMinutes(30), clock);
        Clock elsewhere = clock.withZone(ZoneId.of("Pacific/Apia"));
        assertEquals(ZoneId.of("Pacific/Apia"), elsewhere.getZone());
        Files.writeString(ahead, "-PT48H");
        assertAhead(Duration.ofDays(-2), elsewhere);
    }

    @Test
    void saysSoWhereTheFileIsGone() {
        Clock clock = new MovedClock(directory.resolve("nowhere"));
        assertThrows(UncheckedIOException.class, clock::instant);
    }

    @Test
    void isTheMachinesWhereNoTrialMovesIt() {
        assertEquals(Clock.systemUTC(), new ClockProducer().clock(Optional.empty()));
    }
}
