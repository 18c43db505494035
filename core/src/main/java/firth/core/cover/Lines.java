package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Kind;
import java.util.Arrays;
import java.util.Comparator;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/** The lines of positions of a database, one per lineage and stream, and its data backups by age; the same for all hazards. Not safe for use by several threads. */
public final class Lines {

    private final History history;
    private final Lineages lineages;
    private final int streams;
    private final PositionLine[][] lines;
    private final int[][] rows;
    private final Segments[][] segments;
    private Segments.Places places;
    private final int[][] dataByAge;

    public Lines(History history, Availability availability) {
        this.history = history;
        this.lineages = availability.lineages();
        this.streams = availability.streams();
        int n = lineages.count();
        int[] count = new int[n];
        rows = new int[n][];
        for (int i = 0; i < history.size(); i++) {
            count[history.lineage(i)]++;
        }
        for (int l = 0; l < n; l++) {
            rows[l] = new int[count[l]];
            count[l] = 0;
        }
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) != Kind.CONFIG && availability.begun(i)) {
                rows[history.lineage(i)][count[history.lineage(i)]++] = i;
            }
        }
        lines = new PositionLine[n][streams];
        dataByAge = new int[n][];
        segments = new Segments[n][streams];
        for (int l = 0; l < n; l++) {
            rows[l] = Arrays.copyOf(rows[l], count[l]);
            dataByAge[l] = byAge(select(rows[l], i -> history.kind(i).isData()));
            for (int s = 0; s < streams; s++) {
                int stream = s;
                lines[l][s] = new PositionLine(history, select(rows[l], i -> history.stream(i) == stream));
            }
        }
    }

    private static int[] select(int[] rows, IntPredicate test) {
        int[] out = new int[rows.length];
        int n = 0;
        for (int i : rows) {
            if (test.test(i)) {
                out[n++] = i;
            }
        }
        return Arrays.copyOf(out, n);
    }

    /** The segments of a line, worked out when they are first asked for. */
    Segments segments(int lineage, int stream) {
        if (places == null) {
            places = new Segments.Places(streams, history.size());
        }
        if (segments[lineage][stream] == null) {
            segments[lineage][stream] = new Segments(history, rows[lineage], stream, forks(lineage, stream), places);
        }
        return segments[lineage][stream];
    }

    private int[] byAge(int[] data) {
        return Arrays.stream(data)
                .boxed()
                .sorted(Comparator.<Integer>comparingLong(history::consistentAtMs)
                        .thenComparing(history::compareIds))
                .mapToInt(Integer::intValue)
                .toArray();
    }

    /** The positions in a line at which lineages part. */
    private long[] forks(int lineage, int stream) {
        return IntStream.range(0, lineages.count())
                .filter(c -> lineages.isChild(c) && (c == lineage || lineages.parent(c) == lineage))
                .mapToLong(c -> lineages.fork(c, stream))
                .filter(p -> p >= 0)
                .toArray();
    }

    public Lineages lineages() {
        return lineages;
    }

    public int streams() {
        return streams;
    }

    public PositionLine line(int lineage, int stream) {
        return lines[lineage][stream];
    }

    /** The data backups of a lineage that had begun, from the oldest to the newest. */
    public int[] dataByAge(int lineage) {
        return dataByAge[lineage];
    }
}
