package firth.core.cover;

import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.time.LongOrder;
import java.util.Arrays;

/**
 * The positions of one lineage and stream at which logs and data backups begin and end and lineages part, numbered in
 * ascending order, so that the stretch between two neighbours is a segment with the lower one's number. Segment
 * {@code boundaries() - 1} lies beyond everything and is never covered.
 */
final class Segments {

    /** Where rows lie on their lines, shared by all lines of a database. */
    static final class Places {
        private final int[][] from;
        private final int[][] to;
        private final int[] rank;

        Places(int streams, int rows) {
            from = new int[streams][rows];
            to = new int[streams][rows];
            rank = new int[rows];
        }
    }

    private final long[] boundaries;
    private final int[] fromIndex;
    private final int[] toIndex;
    private final int[] rankByEnd;
    /** Logs by their end, those in which nothing happened after the others that end there. */
    private final int[] logsByEnd;
    /** The first rank of the logs that end at a boundary, and of those in which nothing happened. */
    private final int[] firstRank;

    private final int[] firstEmptyRank;

    /**
     * @param rows the logs and data backups of the lineage that had begun
     * @param lent what other lineages lend to this line
     */
    Segments(History history, int[] rows, int stream, long[] forks, Places places, Guests guests, int[] lent) {
        this.fromIndex = places.from[stream];
        this.toIndex = places.to[stream];
        this.rankByEnd = places.rank;
        long[] all = Arrays.copyOf(forks, 2 * (rows.length + lent.length) + forks.length + 1);
        int[] logs = new int[rows.length];
        int positions = forks.length;
        int logCount = 0;
        for (int i : rows) {
            long from = history.from(i, stream);
            if (from >= 0) {
                all[positions++] = from;
                all[positions++] = history.to(i, stream);
                if (history.kind(i) == Kind.LOG) {
                    logs[logCount++] = i;
                }
            }
        }
        for (int g : lent) {
            all[positions++] = guests.from(g);
            all[positions++] = guests.to(g);
        }
        boundaries = distinct(all, positions);
        for (int i : rows) {
            long from = history.from(i, stream);
            fromIndex[i] = from < 0 ? -1 : Arrays.binarySearch(boundaries, from);
            toIndex[i] = from < 0 ? -1 : Arrays.binarySearch(boundaries, history.to(i, stream));
        }
        logsByEnd = LongOrder.by(
                LongOrder.by(Arrays.copyOf(logs, logCount), i -> fromIndex[i] == toIndex[i] ? 1 : 0), i -> toIndex[i]);
        firstRank = new int[boundaries.length + 1];
        firstEmptyRank = new int[boundaries.length];
        for (int r = 0; r < logCount; r++) {
            int log = logsByEnd[r];
            rankByEnd[log] = r;
            firstRank[toIndex[log] + 1]++;
            firstEmptyRank[toIndex[log]] += fromIndex[log] == toIndex[log] ? 0 : 1;
        }
        for (int k = 0; k < boundaries.length; k++) {
            firstRank[k + 1] += firstRank[k];
            firstEmptyRank[k] += firstRank[k];
        }
    }

    /** How many distinct positions there are. */
    int boundaries() {
        return boundaries.length;
    }

    long position(int boundary) {
        return boundaries[boundary];
    }

    /** The boundary of a position that is one. */
    int boundaryOf(long position) {
        return Arrays.binarySearch(boundaries, position);
    }

    /** The boundary at which a row of this lineage begins, -1 where it has no positions. */
    int fromIndex(int i) {
        return fromIndex[i];
    }

    /** The boundary at which a row of this lineage ends, -1 where it has no positions. */
    int toIndex(int i) {
        return toIndex[i];
    }

    int logs() {
        return logsByEnd.length;
    }

    int rankByEnd(int log) {
        return rankByEnd[log];
    }

    /** The first rank of the logs in which nothing happened at a boundary. */
    int firstEmptyRank(int boundary) {
        return firstEmptyRank[boundary];
    }

    int firstRank(int boundary) {
        return firstRank[boundary];
    }

    private static long[] distinct(long[] values, int size) {
        Arrays.sort(values, 0, size);
        int kept = 0;
        for (int i = 0; i < size; i++) {
            if (i == 0 || values[i] != values[i - 1]) {
                values[kept++] = values[i];
            }
        }
        return Arrays.copyOf(values, kept);
    }
}
