package firth.core.cover;

import static org.junit.jupiter.api.Assertions.assertEquals;

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
            assertEquals(model.contains(probe), set.has(probe));
            assertEquals(orNone(model.ceiling(probe)), set.next(probe));
            assertEquals(orNone(model.floor(probe)), set.previous(probe));
        }
        assertEquals(-1, set.next(capacity));
        assertEquals(-1, set.previous(-1));
    }

    private static int orNone(Integer found) {
        return found == null ? -1 : found;
    }

    @Test
    void aMaxTreeKnowsTheGreatestOfWhatIsSet() {
        MaxTree tree = new MaxTree(100);
        assertEquals(MaxTree.NONE, tree.max());
        long[] model = new long[100];
        Arrays.fill(model, MaxTree.NONE);
        Random random = new Random(7);
        for (int step = 0; step < 2_000; step++) {
            int i = random.nextInt(100);
            model[i] = random.nextInt(4) == 0 ? MaxTree.NONE : random.nextLong() / 2;
            tree.set(i, model[i]);
            assertEquals(Arrays.stream(model).max().orElseThrow(), tree.max());
        }
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
