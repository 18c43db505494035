package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import javax.sql.DataSource;

/**
 * Lists of copies somebody wants deleted, and what became of them. Whoever acts on a list does so in one transaction with what they
 * decide by ({@link #act}), and says which state of it they act on; every step is in the record as it is taken.
 */
public final class Purges {

    private static final String LIST =
            "id, store, state, asked_by, asked_at, reason, approvals, proof, hash, trouble, after, version";
    private static final String ITEM =
            "num, database, backup, kind, store, path, bytes, checksum, landed, why, state, told, freed, at, told_by";

    /** Items that may be deleted by their list still. */
    private static final String OPEN = "('waiting', 'handed')";

    /** Lists by which nothing more is deleted ({@link PurgeState#isOver}). */
    private static final String OVER = Arrays.stream(PurgeState.values())
            .filter(PurgeState::isOver)
            .map(s -> "'" + s.word() + "'")
            .collect(Collectors.joining(", ", "(", ")"));

    private final DataSource readers;
    private final Transactions transactions;

    Purges(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * A list.
     *
     * @param store the one store it is of; empty: of the whole fleet
     * @param approvals how many others must approve it
     * @param proof what was proved when it was asked for, as JSON
     * @param hash over the proof and every item as asked for
     * @param trouble why it stands still; empty where it does not
     * @param after what was found when all of it was carried out, as JSON
     * @param version how often it changed, from 1
     */
    public record Purge(
            String id,
            Optional<String> store,
            PurgeState state,
            String askedBy,
            Instant askedAt,
            String reason,
            int approvals,
            String proof,
            String hash,
            String trouble,
            Optional<String> after,
            long version) {}

    /**
     * One copy of a list.
     *
     * @param path where it lies in its store; empty where that was never said
     * @param bytes what it takes up; 0 where not known
     * @param why why no rule needs it, in words
     * @param told why it was dropped, or what the agent said
     * @param freed what the agent measured was freed
     * @param at when its state last changed
     * @param toldBy who told what became of it; empty where nobody did
     */
    public record Item(
            int num,
            String database,
            String backup,
            String kind,
            String store,
            String path,
            double bytes,
            String checksum,
            Instant landed,
            String why,
            ItemState state,
            String told,
            OptionalDouble freed,
            Optional<Instant> at,
            String toldBy) {

        /** The same copy with where it lies. */
        public Item placed(String where, String sum) {
            return new Item(
                    num, database, backup, kind, store, where, bytes, sum, landed, why, state, told, freed, at, toldBy);
        }

        /** What is to become of it, if it is still as it is here. */
        public Outcome becomes(ItemState next, String why, OptionalDouble freedBytes, String by) {
            return new Outcome(num, state, next, why, freedBytes, by);
        }
    }

    /**
     * An item whose state changes.
     *
     * @param from the state it is in; in any other it does not change, and whoever meant it to is told
     * @param by who told of it; empty where nobody did
     */
    public record Outcome(int num, ItemState from, ItemState state, String told, OptionalDouble freed, String by) {}

    /** A copy that some list may delete. */
    public record Listed(String backup, String store) {}

    public Optional<Purge> find(String id) {
        return reading(c -> find(c, id));
    }

    /** All lists, the newest first. */
    public List<Purge> all() {
        return reading(c -> lists(c, " ORDER BY asked_at DESC, id"));
    }

    /** All lists that are not over and the latest of the others, so many, the newest first. */
    public List<Purge> latest(int over) {
        return reading(c -> lists(
                c,
                " WHERE state NOT IN " + OVER + " OR id IN (SELECT id FROM purge WHERE state IN " + OVER
                        + " ORDER BY asked_at DESC, id LIMIT " + over + ") ORDER BY asked_at DESC, id"));
    }

    /** The lists asked for at a moment or later, the newest first. */
    public List<Purge> askedFrom(Instant moment) {
        return reading(c -> lists(
                        c, " WHERE asked_at >= ? ORDER BY asked_at DESC, id", String.valueOf(moment.toEpochMilli())))
                .stream()
                .filter(p -> !p.askedAt().isBefore(moment))
                .toList();
    }

    public List<Item> items(String purge) {
        return reading(c -> items(c, "purge = ? ORDER BY num", purge));
    }

    /** The items of a list in one state. */
    public List<Item> items(String purge, ItemState state) {
        return reading(c -> items(c, "purge = ? AND state = ? ORDER BY num", purge, state.word()));
    }

    /** How many items of a list are in each state. */
    public Map<ItemState, Integer> tally(String purge) {
        Map<ItemState, Integer> out = new EnumMap<>(ItemState.class);
        reading(c -> read(
                        c,
                        "SELECT state, count(*) FROM purge_item WHERE purge = ? GROUP BY state",
                        row -> Map.entry(ItemState.of(row.text()), (int) row.number()),
                        purge))
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    /** The lists being carried out of which a store may be handed items, the oldest first. */
    public List<String> waiting(String store) {
        return reading(c -> read(
                c,
                "SELECT id FROM purge WHERE state = 'running' AND EXISTS (SELECT 1 FROM purge_item WHERE purge = id"
                        + " AND store = ? AND state IN " + OPEN + ") ORDER BY asked_at, id",
                Cells::text,
                store));
    }

    /** The copies that lists which are not over may delete still, each with its list. */
    public Map<Listed, String> listed() {
        return reading(Purges::listed);
    }

    /** When a copy was on a list that was approved, whatever became of it there: its item. */
    public Optional<Item> ofCopy(String backup, String store) {
        return reading(c -> items(
                        c,
                        "backup = ? AND store = ? AND state IN ('handed', 'deleted', 'missing', 'failed', 'locked')"
                                + " AND purge IN (SELECT id FROM purge WHERE state <> 'asked') ORDER BY at DESC LIMIT 1",
                        backup,
                        store))
                .stream()
                .findFirst();
    }

    /** Who approved a list and when, in the order of time. */
    public Map<String, Instant> approvals(String purge) {
        return reading(c -> approvals(c, purge));
    }

    private static Optional<Purge> find(Connection c, String id) throws SQLException {
        return lists(c, " WHERE id = ?", id).stream().findFirst();
    }

    private static List<Purge> lists(Connection c, String which, String... values) throws SQLException {
        return read(
                c,
                "SELECT " + LIST + " FROM purge" + which,
                row -> new Purge(
                        row.text(),
                        row.optionalText(),
                        PurgeState.of(row.text()),
                        row.text(),
                        row.moment(),
                        row.text(),
                        (int) row.number(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.optionalText(),
                        row.number()),
                values);
    }

    private static List<Item> items(Connection c, String which, String... values) throws SQLException {
        return read(
                c,
                "SELECT " + ITEM + " FROM purge_item WHERE " + which,
                row -> new Item(
                        (int) row.number(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.amountOr(0),
                        row.text(),
                        row.moment(),
                        row.text(),
                        ItemState.of(row.text()),
                        row.text(),
                        row.amount(),
                        row.optionalMoment(),
                        row.text()),
                values);
    }

    private static Map<String, Instant> approvals(Connection c, String purge) throws SQLException {
        Map<String, Instant> out = new LinkedHashMap<>();
        read(
                        c,
                        "SELECT person, at FROM purge_approval WHERE purge = ? ORDER BY at",
                        row -> Map.entry(row.text(), row.moment()),
                        purge)
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    private static Map<Listed, String> listed(Connection c) throws SQLException {
        Map<Listed, String> out = new HashMap<>();
        read(
                        c,
                        "SELECT i.backup, i.store, i.purge FROM purge p JOIN purge_item i ON i.purge = p.id"
                                + " WHERE p.state IN ('asked', 'approved', 'running', 'paused') AND i.state IN " + OPEN,
                        row -> Map.entry(new Listed(row.text(), row.text()), row.text()))
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    private interface Reading<T> {
        T from(Connection connection) throws SQLException;
    }

    private <T> T reading(Reading<T> reading) {
        try (Connection connection = readers.getConnection()) {
            return reading.from(connection);
        } catch (SQLException e) {
            throw new StoreFailure("The purges could not be read", e);
        }
    }

    static <T> List<T> read(Connection connection, String sql, Statement.Row<T> row, String... values)
            throws SQLException {
        try (PreparedStatement select = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                select.setString(i + 1, values[i]);
            }
            List<T> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells cells = new Cells(rows); cells.next(); ) {
                    out.add(row.of(cells));
                }
            }
            return out;
        }
    }

    /** Decides and acts. */
    public interface Acting<R> {
        R with(Steps steps);
    }

    /**
     * Decides and acts in one transaction. Nobody else writes until it ends, so that whatever is read meanwhile, here or from the
     * facts, is what holds when it takes effect. Nothing else may be written within.
     *
     * @throws Changed where a list or an item is no longer as it was seen; nothing is kept then
     */
    public <R> R act(String failure, Acting<R> acting) {
        return transactions.run(failure, connection -> {
            try {
                return acting.with(new Steps(connection));
            } catch (Flaw e) {
                throw e.sql;
            }
        });
    }

    /** Decides and acts in one transaction, as {@link #act}, where there is nothing to tell. */
    public void change(String failure, Consumer<Steps> acting) {
        act(failure, steps -> {
            acting.accept(steps);
            return steps;
        });
    }

    /** Carries a database's failure out of steps, which name none. */
    static final class Flaw extends RuntimeException {
        private final SQLException sql;

        Flaw(SQLException sql) {
            super(sql);
            this.sql = sql;
        }
    }

    /** What may be done with lists within a transaction. */
    public static final class Steps {

        private final Connection connection;

        private Steps(Connection connection) {
            this.connection = connection;
        }

        private <T> T tried(Reading<T> reading) {
            try {
                return reading.from(connection);
            } catch (SQLException e) {
                throw new Flaw(e);
            }
        }

        /** What may be done with standing purges in the same transaction. */
        public StandingPurges.Steps standing() {
            return new StandingPurges.Steps(connection);
        }

        public Optional<Purge> find(String id) {
            return tried(c -> Purges.find(c, id));
        }

        public List<Item> items(String purge) {
            return tried(c -> Purges.items(c, "purge = ? ORDER BY num", purge));
        }

        public Map<String, Instant> approvals(String purge) {
            return tried(c -> Purges.approvals(c, purge));
        }

        /** The copies that lists which are not over may delete still, each with its list. */
        public Map<Listed, String> listed() {
            return tried(Purges::listed);
        }

        /**
         * The next items of a list in one store: those handed out and not told of yet, where there are none those that wait.
         * So no list waits for what was never told of another.
         */
        public List<Item> next(String purge, String store, int most) {
            for (ItemState state : List.of(ItemState.HANDED, ItemState.WAITING)) {
                List<Item> found = tried(c -> Purges.items(
                        c,
                        "purge = ? AND store = ? AND state = ? ORDER BY num LIMIT " + most,
                        purge,
                        store,
                        state.word()));
                if (!found.isEmpty()) {
                    return found;
                }
            }
            return List.of();
        }

        /** Whether no item of a list is open any more. */
        public boolean isOver(String purge) {
            return tried(c -> Purges.items(c, "purge = ? AND state IN " + OPEN + " LIMIT 1", purge))
                    .isEmpty();
        }

        /** Keeps a list as it is asked for. */
        public void ask(Purge purge, List<Item> items, Deed.Told told) {
            tried(c -> {
                Statement.run(c, "INSERT INTO purge (" + LIST + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", s -> {
                    s.setString(1, purge.id());
                    Columns.set(s, 2, purge.store());
                    s.setString(3, purge.state().word());
                    s.setString(4, purge.askedBy());
                    s.setLong(5, purge.askedAt().toEpochMilli());
                    s.setString(6, purge.reason());
                    s.setInt(7, purge.approvals());
                    s.setString(8, purge.proof());
                    s.setString(9, purge.hash());
                    s.setString(10, purge.trouble());
                    Columns.set(s, 11, purge.after());
                    s.setLong(12, purge.version());
                });
                insert(c, purge.id(), items);
                return Deeds.add(c, told, purge.askedAt());
            });
        }

        /** Notes that somebody approved a list, and the state that follows. */
        public void approve(
                Purge seen, String person, PurgeState next, List<Outcome> dropped, Deed.Told told, Instant now) {
            tried(c -> {
                Statement.run(c, "INSERT INTO purge_approval VALUES (?, ?, ?)", s -> {
                    s.setString(1, seen.id());
                    s.setString(2, person);
                    s.setLong(3, now.toEpochMilli());
                });
                outcomes(c, seen.id(), dropped, now);
                turn(c, seen, next, "");
                return Deeds.add(c, told, now);
            });
        }

        /** Changes the state of a list, which with its end by a person is that of its waiting items too. */
        public void turn(Purge seen, PurgeState next, String trouble, Deed.Told told, Instant now) {
            tried(c -> {
                turn(c, seen, next, trouble);
                if (next == PurgeState.CANCELLED) {
                    Statement.run(
                            c,
                            "UPDATE purge_item SET state = 'cancelled', at = ? WHERE purge = ? AND state = 'waiting'",
                            s -> {
                                s.setLong(1, now.toEpochMilli());
                                s.setString(2, seen.id());
                            });
                }
                return Deeds.add(c, told, now);
            });
        }

        /** Hands items of a list to whoever deletes them, or drops them; the list has to be carried out still. */
        public void hand(Purge seen, List<Outcome> outcomes, Optional<Deed.Told> told, Instant now) {
            tried(c -> {
                turn(c, seen, PurgeState.RUNNING, "");
                outcomes(c, seen.id(), outcomes, now);
                if (told.isPresent()) {
                    Deeds.add(c, told.get(), now);
                }
                return true;
            });
        }

        /** Keeps what was found when all of a list had been carried out. */
        public void finish(Purge seen, String after, Deed.Told told, Instant now) {
            tried(c -> {
                turn(c, seen, PurgeState.DONE, "");
                Statement.run(c, "UPDATE purge SET after = ? WHERE id = ?", s -> {
                    s.setString(1, after);
                    s.setString(2, seen.id());
                });
                return Deeds.add(c, told, now);
            });
        }

        private static void insert(Connection c, String purge, List<Item> items) throws SQLException {
            try (PreparedStatement insert = c.prepareStatement("INSERT INTO purge_item (purge, " + ITEM
                    + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
                for (Item i : items) {
                    insert.setString(1, purge);
                    insert.setInt(2, i.num());
                    insert.setString(3, i.database());
                    insert.setString(4, i.backup());
                    insert.setString(5, i.kind());
                    insert.setString(6, i.store());
                    insert.setString(7, i.path());
                    insert.setDouble(8, i.bytes());
                    insert.setString(9, i.checksum());
                    insert.setLong(10, i.landed().toEpochMilli());
                    insert.setString(11, i.why());
                    insert.setString(12, i.state().word());
                    insert.setString(13, i.told());
                    Columns.set(insert, 14, i.freed());
                    Columns.setMoment(insert, 15, i.at());
                    insert.setString(16, i.toldBy());
                    insert.addBatch();
                }
                insert.executeBatch();
            }
        }

        /** Only the list as it was seen changes. */
        private static void turn(Connection c, Purge seen, PurgeState next, String trouble) throws SQLException {
            try (PreparedStatement update = c.prepareStatement("UPDATE purge SET state = ?, trouble = ?, version ="
                    + " version + 1 WHERE id = ? AND state = ? AND version = ?")) {
                update.setString(1, next.word());
                update.setString(2, trouble);
                update.setString(3, seen.id());
                update.setString(4, seen.state().word());
                update.setLong(5, seen.version());
                if (update.executeUpdate() == 0) {
                    String now =
                            Purges.find(c, seen.id()).map(p -> p.state().word()).orElse("not there");
                    throw new Changed(
                            "The list " + seen.id() + " was " + seen.state().word()
                                    + " when it was looked at and has changed since; it is " + now + " now.");
                }
            }
        }
    }

    /** Changes the state of items within a transaction its owner ends; each must be in the state it was seen in. */
    static void outcomes(Connection connection, String purge, List<Outcome> outcomes, Instant now) throws SQLException {
        try (PreparedStatement update =
                connection.prepareStatement("UPDATE purge_item SET state = ?, told = ?, freed = ?,"
                        + " at = ?, told_by = ? WHERE purge = ? AND num = ? AND state = ?")) {
            for (Outcome o : outcomes) {
                update.setString(1, o.state().word());
                update.setString(2, o.told());
                Columns.set(update, 3, o.freed());
                update.setLong(4, now.toEpochMilli());
                update.setString(5, o.by());
                update.setString(6, purge);
                update.setInt(7, o.num());
                update.setString(8, o.from().word());
                if (update.executeUpdate() == 0) {
                    throw new Changed("Item " + o.num() + " of the list " + purge + " is no longer "
                            + o.from().word() + ".");
                }
            }
        }
    }
}
