package firth.wording;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Figures in sentences. */
class WordingTest {

    @ParameterizedTest
    @CsvSource({
        "PT0S, 0 s",
        "PT59S, 59 s",
        "PT1M, 1 min",
        "PT90M, 90 min",
        "PT1H, 1 h",
        "PT4H, 4 h",
        "PT121M, 2 h 1 min",
        "PT24H, 24 h",
        "PT48H, 2 days",
        "PT71H, 71 h",
        "PT73H, 3 d 1 h",
        "P18D, 18 days",
        "P18DT1H, 18 d 1 h",
    })
    void durations(String duration, String words) {
        assertEquals(words, Wording.duration(Duration.parse(duration)));
    }

    @ParameterizedTest
    @CsvSource({
        "0, 0 B",
        "999, 999 B",
        "1000, 1.0 kB",
        "9949, 9.9 kB",
        "9950, 10 kB",
        "999499, 999 kB",
        "999500, 1.0 MB",
        "4.12e11, 412 GB",
        "1.42e12, 1.4 TB",
        "3e18, 3000 PB",
    })
    void bytes(double bytes, String words) {
        assertEquals(words, Wording.bytes(bytes));
    }

    @Test
    void momentsStandOnTheClockOfTheirZone() {
        assertEquals(
                "30 Mar 00:30 Europe/Lisbon",
                Wording.moment(Instant.parse("2026-03-29T23:30:00Z"), ZoneId.of("Europe/Lisbon")));
    }
}
