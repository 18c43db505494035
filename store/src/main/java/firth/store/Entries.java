package firth.store;

import firth.core.model.Backup;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.model.Worded;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** History as it is told: runs and backups of the whole fleet in the order of time, a page at a time. */
public final class Entries {

    private static final int BACKUPS = 0;
    private static final int RUNS = 1;

    /** So few databases are asked for one by one, each in the order of its own index. */
    private static final int FEW = 12;

    /** Lines are counted up to this many. */
    public static final int COUNTED = 25_000;

    private final Connection connection;

    Entries(Connection connection) {
        this.connection = connection;
    }

    /** How many lines there are of a database, kind and outcome. */
    public record Tally(String database, Kind kind, Outcome outcome, long lines) {
        private Tally of(long counted) {
            return new Tally(database, kind, outcome, counted);
        }
    }

    /** @param complete false where there are more lines than are counted */
    public record Tallies(List<Tally> tallies, boolean complete) {}

    /** One that went before: when it began, how long it took and how much it wrote; 0 where that is not known. */
    public record Before(Instant started, long tookMs, double bytes) {}

    /** A moment at which a run or backup of the fleet began or ended, and whose. */
    public record Turn(Instant at, String database) {}

    private static final String NEXT = """
            SELECT at, database FROM (
              SELECT * FROM (SELECT started AS at, database FROM backup WHERE started > ?1 ORDER BY started LIMIT 1)
              UNION ALL SELECT * FROM (SELECT ended, database FROM backup
                WHERE started BETWEEN ?1 - ?2 AND ?1 AND ended > ?1 ORDER BY ended LIMIT 1)
              UNION ALL SELECT * FROM (SELECT started, database FROM run
                WHERE bare = 1 AND started > ?1 ORDER BY started LIMIT 1)
              UNION ALL SELECT * FROM (SELECT ended, database FROM run
                WHERE bare = 1 AND started BETWEEN ?1 - ?2 AND ?1 AND ended > ?1 ORDER BY ended LIMIT 1))
            ORDER BY at LIMIT 1
            """;
    private static final String PREVIOUS = """
            SELECT at, database FROM (
              SELECT * FROM (SELECT started AS at, database FROM backup WHERE started < ?1 ORDER BY started DESC LIMIT 1)
              UNION ALL SELECT * FROM (SELECT ended, database FROM backup
                WHERE started BETWEEN ?1 - ?2 AND ?1 AND ended < ?1 ORDER BY ended DESC LIMIT 1)
              UNION ALL SELECT * FROM (SELECT started, database FROM run
                WHERE bare = 1 AND started < ?1 ORDER BY started DESC LIMIT 1)
              UNION ALL SELECT * FROM (SELECT ended, database FROM run
                WHERE bare = 1 AND started BETWEEN ?1 - ?2 AND ?1 AND ended < ?1 ORDER BY ended DESC LIMIT 1))
            ORDER BY at DESC LIMIT 1
            """;

    /** The ends of what takes longer than this are no turns of the fleet. */
    private static final Duration LONGEST = Duration.ofHours(12);

    /** The next moment after one, or the last before it, at which anything of the fleet began or ended. */
    public Optional<Turn> turn(Instant moment, boolean on) {
        try (PreparedStatement s = connection.prepareStatement(on ? NEXT : PREVIOUS)) {
            s.setLong(1, moment.toEpochMilli());
            s.setLong(2, LONGEST.toMillis());
            try (ResultSet row = s.executeQuery()) {
                return row.next()
                        ? Optional.of(new Turn(Instant.ofEpochMilli(row.getLong(1)), row.getString(2)))
                        : Optional.empty();
            }
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    /** The first lines after a place; the first of all where there is none. */
    public List<Entry> page(EntryFilter filter, Optional<Entry.Key> after, int limit) {
        List<Optional<String>> parts = filter.databases()
                .filter(d -> d.size() <= FEW)
                .map(few -> few.stream().map(Optional::of).toList())
                .orElse(List.of(Optional.empty()));
        List<Entry> out = new ArrayList<>();
        for (Optional<String> only : parts) {
            if (filter.asksForBackups()) {
                out.addAll(backups(filter, only, after, limit));
            }
            out.addAll(runs(filter, only, after, limit));
        }
        out.sort(Comparator.comparing(Entry::key));
        return out.size() <= limit ? out : List.copyOf(out.subList(0, limit));
    }

    private List<Entry> backups(EntryFilter filter, Optional<String> only, Optional<Entry.Key> after, int limit) {
        EntryQuery query = EntryQuery.backups(filter, only);
        after.ifPresent(k -> query.after("b", BACKUPS, k));
        String columns =
                Stream.of(BackupTable.COLUMNS.split(", ")).map(c -> "b." + c).collect(Collectors.joining(", "));
        try (BackupTable table = new BackupTable(connection);
                RunTable runs = new RunTable(connection);
                PreparedStatement select = connection.prepareStatement("SELECT b.num, " + columns + " FROM backup b"
                        + query.where() + " ORDER BY b.started DESC, b.num DESC LIMIT ?")) {
            select.setInt(query.bind(select), limit);
            List<Entry> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    long num = rows.getLong(1);
                    Backup backup = table.read(row);
                    out.add(new Entry(
                            new Entry.Key(backup.started().toEpochMilli(), BACKUPS, num),
                            backup.run().isPresent() ? runs.find(backup.run().get()) : Optional.empty(),
                            Optional.of(backup)));
                }
            }
            return out;
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    private List<Entry> runs(EntryFilter filter, Optional<String> only, Optional<Entry.Key> after, int limit) {
        EntryQuery query = EntryQuery.runs(filter, only);
        after.ifPresent(k -> query.after("r", RUNS, k));
        try (PreparedStatement select = connection.prepareStatement("SELECT " + RunTable.COLUMNS + ", num FROM run r"
                + query.where() + " ORDER BY r.started DESC, r.num DESC LIMIT ?")) {
            select.setInt(query.bind(select), limit);
            List<Entry> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    Run run = RunTable.read(row);
                    out.add(new Entry(
                            new Entry.Key(run.started().toEpochMilli(), RUNS, row.number()),
                            Optional.of(run),
                            Optional.empty()));
                }
            }
            return out;
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    /** The line of a run or of a backup, by the id of either; of a run that made several backups that of its data. */
    public Optional<Entry> of(String id) {
        try (BackupTable table = new BackupTable(connection);
                RunTable runs = new RunTable(connection)) {
            Optional<Backup> backup = table.find(id);
            if (backup.isEmpty()) {
                Optional<String> made = madeBy(id);
                backup = made.isPresent() ? table.find(made.get()) : backup;
            }
            String runId = backup.flatMap(Backup::run).orElse(id);
            Optional<Run> run = runs.find(runId);
            if (backup.isEmpty() && run.isEmpty()) {
                return Optional.empty();
            }
            Instant started = backup.isPresent()
                    ? backup.get().started()
                    : run.orElseThrow().started();
            Entry.Key key = new Entry.Key(started.toEpochMilli(), backup.isPresent() ? BACKUPS : RUNS, 0);
            return Optional.of(new Entry(key, run, backup));
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    /** A backup a run made. */
    public record Made(String backup, Kind kind, Instant ended) {}

    /** What a run made, data backups first, at most so many. */
    public List<Made> made(String run, int limit) {
        try (PreparedStatement select = connection.prepareStatement(
                "SELECT id, kind, ended FROM backup WHERE run = ? ORDER BY kind = 'log', num LIMIT ?")) {
            select.setString(1, run);
            select.setInt(2, limit);
            List<Made> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    out.add(new Made(row.text(), Worded.of(Kind.class, row.text()), row.moment()));
                }
            }
            return out;
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    private Optional<String> madeBy(String run) throws SQLException {
        try (PreparedStatement select =
                connection.prepareStatement("SELECT id FROM backup WHERE run = ? ORDER BY kind = 'log', num LIMIT 1")) {
            select.setString(1, run);
            try (ResultSet row = select.executeQuery()) {
                return row.next() ? Optional.of(row.getString(1)) : Optional.empty();
            }
        }
    }

    /** How many lines there are of each database, kind and outcome, as far as they are counted. */
    public Tallies tallies(EntryFilter filter) {
        Map<Tally, Long> out = new LinkedHashMap<>();
        EntryQuery backups = EntryQuery.backups(filter, Optional.empty());
        tally(
                "SELECT database, kind, iif(ended > " + filter.asOf().toEpochMilli()
                        + ", 'running', 'ok') AS outcome, count(*) FROM (SELECT b.database, b.kind, b.ended FROM backup b"
                        + backups.where() + " ORDER BY b.started DESC LIMIT " + COUNTED + ") GROUP BY 1, 2, 3",
                backups,
                out);
        long counted = out.values().stream().mapToLong(n -> n).sum();
        EntryQuery runs = EntryQuery.runs(filter, Optional.empty());
        tally(
                "SELECT database, kind, iif(ended > " + filter.asOf().toEpochMilli()
                        + ", 'running', outcome), count(*) FROM (SELECT r.database, r.kind, r.ended, r.outcome FROM run r"
                        + runs.where() + " ORDER BY r.started DESC LIMIT " + COUNTED + ") GROUP BY 1, 2, 3",
                runs,
                out);
        return new Tallies(
                out.entrySet().stream().map(e -> e.getKey().of(e.getValue())).toList(), counted < COUNTED);
    }

    private void tally(String sql, EntryQuery query, Map<Tally, Long> out) {
        try (PreparedStatement select = connection.prepareStatement(sql)) {
            query.bind(select);
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    Tally what = new Tally(
                            row.text(), Worded.of(Kind.class, row.text()), Worded.of(Outcome.class, row.text()), 0);
                    out.merge(what, row.number(), Long::sum);
                }
            }
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    /** The backups of a kind a database made before a moment, newest first. */
    public List<Before> before(String database, Kind kind, Instant moment, int limit) {
        String others = kind == Kind.LOG ? "" : " AND kind <> 'log'";
        try (PreparedStatement select = connection.prepareStatement(
                "SELECT started, ended - started, coalesce(bytes, (SELECT max(c.bytes) FROM copy c WHERE c.backup = b.num), 0)"
                        + " FROM backup b WHERE database = ? AND kind = ? AND started < ?" + others
                        + " ORDER BY started DESC LIMIT ?")) {
            select.setString(1, database);
            select.setString(2, kind.word());
            select.setLong(3, moment.toEpochMilli());
            select.setInt(4, limit);
            List<Before> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    out.add(new Before(row.moment(), row.number(), row.amountOr(0)));
                }
            }
            return out;
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }

    /** Up to so many ids of runs and backups that begin with some letters. */
    public List<String> idsLike(String beginning, int limit) {
        try (PreparedStatement select = connection.prepareStatement("SELECT id FROM backup WHERE id >= ? AND id < ?"
                + " UNION SELECT id FROM run WHERE id >= ? AND id < ? LIMIT ?")) {
            for (int at = 1; at <= 4; at++) {
                select.setString(at, at % 2 == 1 ? beginning : beginning + '\uffff');
            }
            select.setInt(5, limit);
            List<String> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                while (rows.next()) {
                    out.add(rows.getString(1));
                }
            }
            return out;
        } catch (SQLException e) {
            throw Snapshot.failure(e);
        }
    }
}
