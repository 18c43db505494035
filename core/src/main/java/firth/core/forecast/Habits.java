package firth.core.forecast;

import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.RungUnit;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What the backups of a database have lately been like: how long they took, how large they were, how fast that grows and
 * where they came to lie (docs/forecast.md, "Habits"). Only what had ended by the moment looked from counts.
 */
public final class Habits {

    /** How many of the newest backups of a kind make its habit. */
    public static final int LOOKED_AT = 8;

    private static final int TREND = 30;
    private static final long WEEK_MS = 7L * 24 * 3_600_000;

    private final Database database;
    private final History history;
    private final long now;
    private final Map<Kind, int[]> newestFirst = new EnumMap<>(Kind.class);
    private final Map<Kind, Optional<Trend>> sizes = new EnumMap<>(Kind.class);
    private final Map<Kind, List<Landing>> landings = new EnumMap<>(Kind.class);
    private final LogHabit logs;

    private Habits(Database database, History history, long now) {
        this.database = database;
        this.history = history;
        this.now = now;
        this.logs = LogHabit.of(database, history, now, WEEK_MS);
    }

    public static Habits of(Database database, History history, Instant asOf) {
        return new Habits(database, history, asOf.toEpochMilli());
    }

    /** What its logs have been like in the last week there were any. */
    public LogHabit logs() {
        return logs;
    }

    /** How the newest {@value #LOOKED_AT} backups of a kind went; empty where there is none. */
    public Optional<Usual> usual(Kind kind) {
        return usual(firstOf(newest(kind), LOOKED_AT));
    }

    /** The same of those that started on a local weekday; of all weekdays where fewer than two did. */
    public Optional<Usual> usual(Kind kind, DayOfWeek day) {
        int[] onDay = Arrays.stream(newest(kind))
                .filter(i -> Instant.ofEpochMilli(history.startedMs(i))
                                .atZone(database.zone())
                                .getDayOfWeek()
                        == day)
                .limit(LOOKED_AT)
                .toArray();
        return onDay.length < 2 ? usual(kind) : usual(onDay);
    }

    private Optional<Usual> usual(int[] rows) {
        if (rows.length == 0) {
            return Optional.empty();
        }
        double[] took = Arrays.stream(rows).mapToDouble(this::tookMs).toArray();
        double[] bytes =
                Arrays.stream(rows).mapToDouble(this::bytes).filter(b -> b > 0).toArray();
        return Optional.of(new Usual(
                Duration.ofMillis(Math.round(Trend.median(took))),
                Duration.ofMillis((long) Arrays.stream(took).max().orElse(0)),
                Trend.median(bytes),
                rows.length));
    }

    /** Bytes a backup of a kind that starts at a moment will have, {@code since} its base was consistent. */
    double expectedBytes(Kind kind, long startMs, long baseMs) {
        Optional<Trend> trend = sizes.computeIfAbsent(kind, this::sizeTrend);
        if (kind == Kind.DIFF || kind == Kind.INCR) {
            double changed = trend.map(t -> t.at(startMs)).orElse(logs.bytesPerMs());
            return changed * Math.max(0, startMs - baseMs);
        }
        return trend.map(t -> t.at(startMs))
                .orElseGet(() -> kind == Kind.FULL ? database.sizeBytes().orElse(0) : 0);
    }

    /** How long a backup of a kind with so many bytes will take, from the rate of earlier ones; zero where none is known. */
    Duration expectedDuration(Kind kind, double bytes) {
        double[] rates = Arrays.stream(firstOf(newest(kind), LOOKED_AT))
                .filter(i -> bytes(i) > 0 && tookMs(i) > 0)
                .mapToDouble(i -> bytes(i) / tookMs(i))
                .toArray();
        if (rates.length > 0) {
            return Duration.ofMillis(Math.round(bytes / Trend.median(rates)));
        }
        return kind == Kind.DIFF || kind == Kind.INCR ? expectedDuration(Kind.FULL, bytes) : Duration.ZERO;
    }

    /** What its data backups of the last weeks wrote where they first came to lie. */
    public List<Writing> writings(Duration back) {
        List<Writing> out = new ArrayList<>();
        for (int i : history.others()) {
            boolean counts = history.kind(i).isData()
                    && history.endedMs(i) <= now
                    && history.startedMs(i) >= now - back.toMillis()
                    && tookMs(i) > 0
                    && bytes(i) > 0;
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1) && counts; c++) {
                if (history.landedMs(c) == history.endedMs(i)) {
                    out.add(new Writing(
                            history.store(c),
                            database.name(),
                            Instant.ofEpochMilli(history.startedMs(i)),
                            Instant.ofEpochMilli(history.endedMs(i)),
                            bytes(i) / (tookMs(i) / 1000)));
                }
            }
        }
        return out;
    }

    /** How fast fulls grow, in bytes a day; 0 where too few are known. */
    public double growthPerDay() {
        return sizes.computeIfAbsent(Kind.FULL, this::sizeTrend)
                .map(Trend::perDay)
                .orElse(0.0);
    }

    /** Bytes of a full or config; of what hangs from another, bytes a millisecond since that one. */
    private Optional<Trend> sizeTrend(Kind kind) {
        int[] rows = firstOf(newest(kind), TREND);
        List<Integer> sized = new ArrayList<>();
        for (int r = rows.length - 1; r >= 0; r--) {
            if (bytes(rows[r]) > 0 && sinceBase(rows[r]) > 0) {
                sized.add(rows[r]);
            }
        }
        if (sized.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(Trend.through(
                sized.stream().mapToLong(history::startedMs).toArray(),
                sized.stream().mapToDouble(i -> bytes(i) / sinceBase(i)).toArray()));
    }

    /** Milliseconds since a backup's base; 1 of one that has none. */
    private long sinceBase(int i) {
        if (history.kind(i) == Kind.FULL || history.kind(i) == Kind.CONFIG) {
            return 1;
        }
        int parent = history.parent(i);
        return parent < 0 ? 0 : history.startedMs(i) - history.consistentAtMs(parent);
    }

    /** The stores in which at least half of the newest backups of a kind have a copy, or of fulls the first of each month or week. */
    public List<Landing> landings(Kind kind) {
        return landings.computeIfAbsent(kind, this::land);
    }

    private List<Landing> land(Kind kind) {
        int[] rows = kind == Kind.LOG ? logs.newest() : firstOf(newest(kind), LOOKED_AT);
        Map<String, List<double[]>> byStore = new TreeMap<>();
        for (int i : rows) {
            seen(i, byStore);
        }
        List<Landing> out = new ArrayList<>();
        byStore.forEach((store, seen) -> {
            if (2 * seen.size() >= rows.length) {
                out.add(landing(store, seen, Optional.empty()));
            } else if (kind == Kind.FULL) {
                rungOf(store, rows).ifPresent(unit -> out.add(landing(store, seen, Optional.of(unit))));
            }
        });
        return List.copyOf(out);
    }

    /** Notes by store how late each copy of a backup was and for how long it is locked. */
    private void seen(int i, Map<String, List<double[]>> byStore) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (history.landedMs(c) <= now) {
                double locked = history.lockedUntilMs(c) == History.ALWAYS
                        ? 0
                        : Math.max(0, history.lockedUntilMs(c) - history.landedMs(c));
                byStore.computeIfAbsent(history.store(c), s -> new ArrayList<>())
                        .add(new double[] {Math.max(0, history.landedMs(c) - readyMs(i)), locked});
            }
        }
    }

    private static Landing landing(String store, List<double[]> seen, Optional<RungUnit> firstOf) {
        double lock = Trend.median(seen.stream().mapToDouble(s -> s[1]).toArray());
        return new Landing(
                store,
                Duration.ofMillis(Math.round(
                        Trend.median(seen.stream().mapToDouble(s -> s[0]).toArray()))),
                lock > 0 ? Optional.of(Duration.ofMillis(Math.round(lock))) : Optional.empty(),
                firstOf);
    }

    /** The longest unit of which each full with a copy in a store was the first. */
    private Optional<RungUnit> rungOf(String store, int[] fulls) {
        for (RungUnit unit : List.of(RungUnit.MONTH, RungUnit.WEEK)) {
            boolean each = true;
            for (int k = 0; k < fulls.length; k++) {
                boolean first = k + 1 == fulls.length || isFirst(unit, history.consistentAtMs(fulls[k + 1]), fulls[k]);
                each &= first || !liesIn(store, fulls[k]);
            }
            if (each) {
                return Optional.of(unit);
            }
        }
        return Optional.empty();
    }

    private boolean isFirst(RungUnit unit, long before, int full) {
        return isFirst(unit, before, history.consistentAtMs(full), database);
    }

    /** Whether a full is the first of a unit when another was the one before it. */
    static boolean isFirst(RungUnit unit, long beforeMs, long atMs, Database database) {
        return unit.of(Instant.ofEpochMilli(beforeMs).atZone(database.zone()))
                != unit.of(Instant.ofEpochMilli(atMs).atZone(database.zone()));
    }

    private boolean liesIn(String store, int i) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (history.store(c).equals(store) && history.landedMs(c) <= now) {
                return true;
            }
        }
        return false;
    }

    /** The moment from which on a backup can come to lie anywhere: a log's end, another's when it is done. */
    long readyMs(int i) {
        return history.kind(i) == Kind.LOG ? history.toTimeMs(i) : history.endedMs(i);
    }

    private int[] newest(Kind kind) {
        return newestFirst.computeIfAbsent(
                kind,
                k -> history.others().stream()
                        .filter(i -> history.kind(i) == k && history.endedMs(i) <= now)
                        .boxed()
                        .sorted(Comparator.<Integer>comparingLong(history::startedMs)
                                .thenComparing(history::compareIds)
                                .reversed())
                        .mapToInt(Integer::intValue)
                        .toArray());
    }

    private static int[] firstOf(int[] rows, int n) {
        return Arrays.copyOf(rows, Math.min(n, rows.length));
    }

    private double tookMs(int i) {
        return history.endedMs(i) - history.startedMs(i);
    }

    private double bytes(int i) {
        return bytes(history, i);
    }

    /** The size of a backup: of its largest copy, 0 where none is known. */
    public static double bytes(History history, int i) {
        double out = 0;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            out = Double.isNaN(history.bytes(c)) ? out : Math.max(out, history.bytes(c));
        }
        return out;
    }
}
