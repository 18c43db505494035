package firth.core.cover;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.time.LongOrder;
import java.util.Arrays;
import java.util.Random;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The small structures the sweep stands on, against the JDK's. */
class ColumnsTest {

    @ParameterizedTest
    @ValueSource(ints = {1, 63, 64, 65, 4096, 4097, 300_000})
    void anIndexSetFindsNextAndPreviousLikeATreeSet(int capacity) {
        Random random = new Random(capacity);
        IndexSet set = new IndexSet(capacity);
        TreeSet<Integer> model = new TreeSet<>();
        for (int step = 0; step < 3_000; step++) {
            int i = random.nextInt(capacity);
            if (random.nextInt(3) > 0) {
                set.add(i);
                model.add(i);
            } else {
                set.remove(i);
                model.remove(i);
            }
            int probe = random.nextInt(capacity);
            assertEquals(orNone(model.ceiling(probe)), set.next(probe));
            assertEquals(orNone(model.floor(probe)), set.previous(probe));
        }
        assertEquals(-1, set.next(capacity));
        assertEquals(-1, set.previous(-1));
    }

    private static int orNone(Integer found) {
        return found == null ? -1 : found;
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 63, 64, 65, 4096, 4097})
    void aFullIndexSetHoldsEveryNumber(int capacity) {
        IndexSet set = IndexSet.full(capacity);
        for (int i = 0; i < capacity; i++) {
            assertEquals(i, set.next(i));
            assertEquals(i, set.previous(i));
        }
        set.remove(capacity - 1);
        assertEquals(-1, set.next(capacity - 1));
    }

    @Test
    void anOrderIsStable() {
        long[] keys = {5, 1, 5, 3, 1, 9, 0};
        int[] order = LongOrder.of(keys, keys.length);
        assertEquals("[6, 1, 4, 3, 0, 2, 5]", Arrays.toString(order));
        assertEquals("[0, 1, 2]", Arrays.toString(LongOrder.of(new long[] {1, 1, 2, 0}, 3)));
        assertEquals(0, LongOrder.of(keys, 0).length);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    void anOrderOfManyKeysIsThatOfTheJdk(long seed) {
        long[] keys = new Random(seed).longs(5_000, 0, 800).toArray();
        int[] order = LongOrder.of(keys, keys.length);
        long[] sorted = Arrays.stream(order).mapToLong(i -> keys[i]).toArray();
        long[] expected = keys.clone();
        Arrays.sort(expected);
        assertEquals(Arrays.toString(expected), Arrays.toString(sorted));
    }
}
