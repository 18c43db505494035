package firth.wording;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import org.junit.jupiter.api.Test;

class PositionWordsTest {

    @Test
    void eachEngineHasItsOwnWriting() {
        assertEquals("0/1A2B3C4D", PositionWords.written(Optional.of("postgresql"), 0x1A2B3C4DL));
        assertEquals("16/B374D848", PositionWords.written(Optional.of("postgresql"), 0x16_B374_D848L));
        assertEquals(".000003:4711", PositionWords.written(Optional.of("mariadb"), (3L << 32) + 4711));
        assertEquals(".000003:4711 (12884906599)", PositionWords.both(Optional.of("mysql"), (3L << 32) + 4711));
        assertEquals("4711", PositionWords.both(Optional.empty(), 4711));
        assertEquals("4711", PositionWords.both(Optional.of("sqlite"), 4711));
    }

    @Test
    void whatIsWrittenIsUnderstood() {
        assertEquals(OptionalLong.of((3L << 32) + 4711), PositionWords.meant("mariadb-bin.000003:4711"));
        assertEquals(OptionalLong.of(Long.MAX_VALUE), PositionWords.meant("9223372036854775807"));
        Random random = new Random(5);
        for (int k = 0; k < 1_000; k++) {
            long position = random.nextLong() & Long.MAX_VALUE;
            assertEquals(
                    OptionalLong.of(position),
                    PositionWords.meant(PositionWords.written(Optional.of("postgresql"), position)));
            long place = (long) random.nextInt(1_000_000_000) << 32 | random.nextInt(Integer.MAX_VALUE);
            assertEquals(
                    OptionalLong.of(place), PositionWords.meant(PositionWords.written(Optional.of("mysql"), place)));
        }
    }

    @Test
    void whatIsNoPositionIsNotGuessedAt() {
        for (String none : List.of(
                "",
                " ",
                "x",
                "-1",
                "3/",
                "/3",
                "3/1/1",
                "80000000/0",
                "binlog.3:1",
                "binlog.000003:9999999999",
                "9223372036854775808",
                "3.5",
                "０",
                "0/1A2B3C4D ")) {
            assertEquals(OptionalLong.empty(), PositionWords.meant(none), none);
        }
    }
}
