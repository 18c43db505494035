package firth.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class ChainTest {

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    private static List<Deed> record(Random random) {
        List<Deed> out = new ArrayList<>();
        Deed last = null;
        for (int n = 2 + random.nextInt(9); n > 0; n--) {
            Deed.Told told =
                    new Deed.Told("p" + random.nextInt(3), "hold", "d" + random.nextInt(3), "{\"n\":" + n + "}");
            last = Deed.after(
                    last == null ? 0 : last.number(),
                    last == null ? Deed.BEFORE_FIRST : last.hash(),
                    told,
                    Instant.ofEpochMilli(1_700_000_000_000L + random.nextInt(1_000_000)));
            out.add(last);
        }
        return out;
    }

    private static Chain walked(List<Deed> deeds) {
        Chain chain = new Chain();
        deeds.forEach(chain::add);
        return chain;
    }

    @Test
    void anEmptyRecordIsWhole() {
        Chain chain = new Chain();
        assertEquals(0, chain.length());
        assertTrue(chain.broken().isEmpty());
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void asWrittenItIsWhole(long seed) {
        List<Deed> deeds = record(new Random(seed));
        Chain chain = walked(deeds);
        assertTrue(chain.broken().isEmpty());
        assertEquals(deeds.size(), chain.length());
        assertEquals(deeds.get(deeds.size() - 1).hash(), chain.head());
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void anyFieldAlteredIsFoundAtItsEntry(long seed) {
        Random random = new Random(seed);
        List<Deed> deeds = record(random);
        int at = random.nextInt(deeds.size());
        Deed d = deeds.get(at);
        Deed other = switch (random.nextInt(6)) {
            case 0 ->
                new Deed(
                        d.number(),
                        d.at().plusMillis(1),
                        d.who(),
                        d.act(),
                        d.about(),
                        d.detail(),
                        d.previous(),
                        d.hash());
            case 1 ->
                new Deed(d.number(), d.at(), d.who() + "x", d.act(), d.about(), d.detail(), d.previous(), d.hash());
            case 2 -> new Deed(d.number(), d.at(), d.who(), "lift", d.about(), d.detail(), d.previous(), d.hash());
            case 3 -> new Deed(d.number(), d.at(), d.who(), d.act(), "", d.detail(), d.previous(), d.hash());
            // A letter moved from one field into the next.
            case 4 ->
                new Deed(
                        d.number(),
                        d.at(),
                        d.who() + d.act().charAt(0),
                        d.act().substring(1),
                        d.about(),
                        d.detail(),
                        d.previous(),
                        d.hash());
            default -> new Deed(d.number(), d.at(), d.who(), d.act(), d.about(), "{}", d.previous(), d.hash());
        };
        deeds.set(at, other);
        assertEquals(d.number(), walked(deeds).broken().orElseThrow().number());
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void anEntryTakenOutOrWrittenAnewIsFound(long seed) {
        Random random = new Random(seed);
        List<Deed> deeds = record(random);
        int at = random.nextInt(deeds.size() - 1);
        List<Deed> without = new ArrayList<>(deeds);
        without.remove(at);
        assertEquals(at + 2, walked(without).broken().orElseThrow().number());
        // Written anew with a hash that fits itself: the next entry gives it away.
        Deed d = deeds.get(at);
        Deed forged = Deed.after(d.number() - 1, d.previous(), new Deed.Told("other", "hold", "d", "{}"), d.at());
        assertNotEquals(d.hash(), forged.hash());
        deeds.set(at, forged);
        assertEquals(at + 2, walked(deeds).broken().orElseThrow().number());
    }
}
