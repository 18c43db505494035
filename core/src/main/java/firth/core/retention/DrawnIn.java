package firth.core.retention;

import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;

/** Which copies are needed because another backup is, in the order it was found: columns, since mostly nobody asks. */
final class DrawnIn {

    private int size;
    private int[] copies = new int[64];
    private int[] of = new int[64];
    private Drawn.As[] as = new Drawn.As[64];

    void add(int copy, Drawn.As why, int other) {
        if (size == copies.length) {
            copies = Arrays.copyOf(copies, size * 2);
            of = Arrays.copyOf(of, size * 2);
            as = Arrays.copyOf(as, size * 2);
        }
        copies[size] = copy;
        of[size] = other;
        as[size++] = why;
    }

    /** By copy, each reason once. */
    Map<Integer, Set<Drawn>> byCopy() {
        Map<Integer, Set<Drawn>> out = new HashMap<>();
        for (int d = 0; d < size; d++) {
            out.computeIfAbsent(copies[d], c -> new LinkedHashSet<>()).add(new Drawn(as[d], of[d]));
        }
        return out;
    }
}
