package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.model.Kind;
import java.util.Arrays;
import java.util.Comparator;
import java.util.function.IntConsumer;
import java.util.stream.IntStream;

/** The lines of positions of a database, one per lineage and stream, and its data backups by age; the same for all hazards. Not safe for use by several threads. */
public final class Lines {

    private final History history;
    private final Availability availability;
    private final Lineages lineages;
    private final int streams;
    private final PositionLine[][] lines;
    /** Logs and data backups that had begun, by lineage; worked out when they are first asked for. */
    @SuppressWarnings("NullAway.Init")
    private int[][] rows;

    private final Segments[][] segments;

    @SuppressWarnings("NullAway.Init")
    private Segments.Places places;

    private final int[][] dataByAge;
    private final Guests guests = new Guests();

    public Lines(History history, Availability availability) {
        this.history = history;
        this.availability = availability;
        this.lineages = availability.lineages();
        this.streams = availability.streams();
        int n = lineages.count();
        lines = new PositionLine[n][streams];
        dataByAge = new int[n][];
        segments = new Segments[n][streams];
        Blocks[][] blocks = blocks();
        for (int l = 0; l < n; l++) {
            for (int s = 0; s < streams && lineages.isChild(l) && lineages.isKnown(l); s++) {
                blocks[l][s].each(i -> guests.add(history, lineages, i));
            }
        }
        for (int l = 0; l < n; l++) {
            int lineage = l;
            dataByAge[l] = byAge(history.others().stream()
                    .filter(i ->
                            history.lineage(i) == lineage && history.kind(i).isData() && availability.exists(i))
                    .toArray());
            for (int s = 0; s < streams; s++) {
                lines[l][s] =
                        new PositionLine(history, blocks[l][s].first(), blocks[l][s].end(), guests, guestsOf(l, s));
            }
        }
    }

    /** Rows of logs that follow each other, by line. */
    private static final class Blocks {
        private int[] first = new int[8];
        private int[] end = new int[8];
        private int size;

        void add(int from, int to) {
            if (size == first.length) {
                first = Arrays.copyOf(first, 2 * size);
                end = Arrays.copyOf(end, 2 * size);
            }
            first[size] = from;
            end[size++] = to;
        }

        void each(IntConsumer action) {
            for (int b = 0; b < size; b++) {
                for (int row = first[b]; row < end[b]; row++) {
                    action.accept(row);
                }
            }
        }

        int[] first() {
            return Arrays.copyOf(first, size);
        }

        int[] end() {
            return Arrays.copyOf(end, size);
        }
    }

    private Blocks[][] blocks() {
        Blocks[][] out = new Blocks[lineages.count()][streams];
        for (Blocks[] lineage : out) {
            Arrays.setAll(lineage, s -> new Blocks());
        }
        Stretches stretches = history.stretches();
        for (int s = 0; s < stretches.count(); s++) {
            int first = stretches.first(s);
            int end = Stretches.firstWhere(first, stretches.end(s), i -> !availability.exists(i));
            if (first < end) {
                out[history.lineage(first)][history.stream(first)].add(first, end);
            }
        }
        stretches.eachLoose(i -> {
            if (history.stream(i) >= 0 && availability.exists(i)) {
                out[history.lineage(i)][history.stream(i)].add(i, i + 1);
            }
        });
        return out;
    }

    /** What is lent to a line. */
    private int[] guestsOf(int lineage, int stream) {
        return IntStream.range(0, guests.size())
                .filter(g -> guests.host(g) == lineage && history.stream(guests.row(g)) == stream)
                .toArray();
    }

    Guests guests() {
        return guests;
    }

    private int[][] rows() {
        if (rows == null) {
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
                if (history.kind(i) != Kind.CONFIG && availability.exists(i)) {
                    rows[history.lineage(i)][count[history.lineage(i)]++] = i;
                }
            }
            for (int l = 0; l < n; l++) {
                rows[l] = Arrays.copyOf(rows[l], count[l]);
            }
        }
        return rows;
    }

    /** The segments of a line, worked out when they are first asked for. */
    Segments segments(int lineage, int stream) {
        if (places == null) {
            places = new Segments.Places(streams, history.size());
        }
        if (segments[lineage][stream] == null) {
            segments[lineage][stream] = new Segments(
                    history,
                    rows()[lineage],
                    stream,
                    forks(lineage, stream),
                    places,
                    guests,
                    lines[lineage][stream].lent());
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
