package firth.core.history;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Positions;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Takes the backups and runs of one database in any order, and gives its history once. */
public final class HistoryBuilder {

    private final Database database;
    private final Map<String, Integer> lineageIndex = new HashMap<>();
    private final Map<String, Integer> streamIndex = new HashMap<>();
    private @Nullable Columns columns;

    HistoryBuilder(Database database) {
        this.database = database;
        this.columns = new Columns(database.streams().size());
        for (int l = 0; l < database.lineages().size(); l++) {
            lineageIndex.put(database.lineages().get(l).id(), l);
        }
        for (int s = 0; s < database.streams().size(); s++) {
            streamIndex.put(database.streams().get(s), s);
        }
    }

    /** The place of a lineage among the database's, the first where none is named, -1 where it lists no such one. */
    public int lineage(String id) {
        return lineageIndex.getOrDefault(id, -1);
    }

    /** The place of the lineage that what names none is of. */
    public int firstLineage() {
        return 0;
    }

    /** The place of a stream among the database's, -1 where it has no such one. */
    public int stream(@Nullable String name) {
        return name == null ? -1 : streamIndex.getOrDefault(name, -1);
    }

    private Columns open() {
        if (columns == null) {
            throw new IllegalStateException("the history of " + database.id() + " is built already");
        }
        return columns;
    }

    /** Adds a backup with its copies; one of a lineage or stream the database does not list has no effect. */
    public HistoryBuilder add(Backup backup) {
        int lineage = backup.lineage().map(this::lineage).orElse(firstLineage());
        boolean log = backup.kind() == Kind.LOG;
        int stream = log ? stream(backup.positions().keySet().iterator().next()) : -1;
        if (lineage < 0 || log && stream < 0) {
            return this;
        }
        Positions first = backup.positions().get(database.streams().get(Math.max(stream, 0)));
        add(new BackupRow(
                backup.id(),
                backup.kind(),
                lineage,
                stream,
                backup.parent().orElse(""),
                backup.run().orElse(""),
                new BackupRow.During(
                        backup.started().toEpochMilli(),
                        backup.ended().toEpochMilli(),
                        backup.consistentAt().toEpochMilli()),
                backup.selfContained(),
                new BackupRow.Extent(
                        first == null ? -1 : first.from(),
                        first == null ? -1 : first.to(),
                        backup.times().map(t -> t.from().toEpochMilli()).orElse(History.ALWAYS),
                        backup.times().map(t -> t.to().toEpochMilli()).orElse(History.ALWAYS))));
        if (!log) {
            backup.positions().forEach((name, p) -> addPositions(stream(name), p.from(), p.to()));
        }
        if (log && backup.streamed()) {
            streamed(backup.lag().toMillis());
        }
        for (Copy c : backup.copies()) {
            addCopy(
                    c.store(),
                    new CopyRow(
                            c.landed().toEpochMilli(),
                            c.statedLanding(),
                            c.lockedUntil().map(Instant::toEpochMilli).orElse(History.ALWAYS),
                            c.gone().map(Instant::toEpochMilli).orElse(History.NEVER),
                            c.spoiled().map(s -> s.found().toEpochMilli()).orElse(History.NEVER),
                            c.spoiled()
                                    .flatMap(Spoilage::since)
                                    .map(Instant::toEpochMilli)
                                    .orElse(History.ALWAYS),
                            c.bytes().orElse(backup.bytes().orElse(Double.NaN)),
                            c.evidence()));
        }
        return this;
    }

    /** Adds a backup. Its positions in further streams, its lag and its copies follow. */
    public HistoryBuilder add(BackupRow row) {
        open().add(row);
        return this;
    }

    /** Makes room for that many backups with two copies each. */
    public HistoryBuilder expect(int backups) {
        open().expect(backups);
        return this;
    }

    /** The number that copies in a store share. */
    public int storeIndex(String store) {
        return open().storeIndex(store);
    }

    /** Positions of the data backup added last in one more stream; of a stream below 0 they have no effect. */
    public HistoryBuilder addPositions(int stream, long from, long to) {
        open().addPositions(stream, from, to);
        return this;
    }

    /** Says that the log added last was received continuously, that far behind. */
    public HistoryBuilder streamed(long lagMs) {
        open().streamed(lagMs);
        return this;
    }

    /**
     * Adds a copy of the backup added last. A streamed log's copy is whole when its end was received, unless it is
     * said to have landed later than that.
     */
    public HistoryBuilder addCopy(String store, CopyRow copy) {
        return addCopy(storeIndex(store), copy);
    }

    /** As the other, with the store as {@link #storeIndex} gives it. */
    public HistoryBuilder addCopy(int store, CopyRow copy) {
        open().add(store, copy);
        return this;
    }

    /** Says how the copy added last is known. */
    public HistoryBuilder known(Evidence evidence) {
        open().known(evidence);
        return this;
    }

    public HistoryBuilder add(Run run) {
        open().add(run);
        return this;
    }

    /**
     * Takes over every row, copy and run of a history of the same database.
     *
     * @param taken told each row taken over, while copies may still be added to it
     */
    public HistoryBuilder addAll(History other, IntConsumer taken) {
        return addAll(other, copy -> true, taken);
    }

    /** Takes over every row and run of a history of the same database, and those of its copies that are kept. */
    public HistoryBuilder addAll(History other, IntPredicate kept, IntConsumer taken) {
        expect(open().size + other.size());
        for (int i = 0; i < other.size(); i++) {
            addRowOf(other, i, kept, History.NEVER);
            taken.accept(i);
        }
        other.runs().forEach(this::add);
        return this;
    }

    /**
     * Takes over what of a history of the same database was known at a moment: what began, landed, went or was found later is not.
     * Of data backups that began later the record stays, for others may name it as their parent.
     */
    public HistoryBuilder addKnown(History other, long nowMs) {
        for (int i = 0; i < other.size(); i++) {
            int row = i;
            IntPredicate arrived = c -> other.arrivesMs(row, c) <= nowMs;
            if (other.kind(i).isData()
                    || other.startedMs(i) <= nowMs
                    || IntStream.range(other.firstCopy(i), other.firstCopy(i + 1))
                            .anyMatch(arrived)) {
                addRowOf(other, i, arrived, nowMs);
            }
        }
        other.runs().stream().filter(r -> r.started().toEpochMilli() <= nowMs).forEach(this::add);
        return this;
    }

    /** One row with those of its copies that are kept; what befell them after a moment is left out. */
    private void addRowOf(History other, int i, IntPredicate kept, long nowMs) {
        add(other.row(i));
        for (int s = 1; s < database.streams().size() && other.stream(i) < 0; s++) {
            if (other.positioned(i, s)) {
                addPositions(s, other.from(i, s), other.to(i, s));
            }
        }
        if (other.streamed(i)) {
            streamed(other.lagMs(i));
        }
        for (int c = other.firstCopy(i); c < other.firstCopy(i + 1); c++) {
            if (kept.test(c)) {
                addCopy(other.store(c), other.copy(c, nowMs));
            }
        }
    }

    /** The history of all that was added. Nothing can be added any more. */
    public History build() {
        Columns all = open();
        columns = null;
        all.complete();
        return new History(all);
    }
}
