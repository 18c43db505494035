package firth.core.history;

import java.util.Arrays;
import java.util.NoSuchElementException;
import java.util.PrimitiveIterator;
import java.util.stream.IntStream;

/** Some rows of a history, ascending. Immutable. */
public final class RowSet implements Iterable<Integer> {

    private final int[] rows;

    RowSet(int[] rows) {
        this.rows = rows;
    }

    public int size() {
        return rows.length;
    }

    /** The place of a row among these; below 0 where it is none of them. */
    public int place(int row) {
        return Arrays.binarySearch(rows, row);
    }

    public IntStream stream() {
        return Arrays.stream(rows);
    }

    /** Without a stream behind it: rows are gone through more often than anything else. */
    @Override
    public PrimitiveIterator.OfInt iterator() {
        return new PrimitiveIterator.OfInt() {
            private int next;

            @Override
            public boolean hasNext() {
                return next < rows.length;
            }

            @Override
            public int nextInt() {
                if (next == rows.length) {
                    throw new NoSuchElementException();
                }
                return rows[next++];
            }
        };
    }
}
