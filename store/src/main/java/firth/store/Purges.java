package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import javax.sql.DataSource;

/** Lists of copies somebody wants deleted, and what became of them. Every step is in the record as it is taken. */
public final class Purges {

    private static final String LIST =
            "id, store, state, asked_by, asked_at, reason, approvals, proof, hash, trouble, after";
    private static final String ITEM =
            "num, database, backup, kind, store, path, bytes, checksum, landed, why, state, told, freed, at";

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
            Optional<String> after) {}

    /**
     * One copy of a list.
     *
     * @param path where it lies in its store; empty where that was never said
     * @param bytes what it takes up; 0 where not known
     * @param why why no rule needs it, in words
     * @param told why it was dropped, or what the agent said
     * @param freed what the agent measured was freed
     * @param at when its state last changed
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
            Optional<Instant> at) {

        /** The same copy with where it lies. */
        public Item placed(String where, String sum) {
            return new Item(num, database, backup, kind, store, where, bytes, sum, landed, why, state, told, freed, at);
        }
    }

    /** An item whose state changes. */
    public record Outcome(int num, ItemState state, String told, OptionalDouble freed) {}

    public Optional<Purge> find(String id) {
        return lists(" WHERE id = ?", id).stream().findFirst();
    }

    /** All lists, the newest first. */
    public List<Purge> all() {
        return lists(" ORDER BY asked_at DESC, id");
    }

    private List<Purge> lists(String which, String... values) {
        return read(
                "SELECT " + LIST + " FROM purge" + which,
                values,
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
                        row.optionalText()));
    }

    public List<Item> items(String purge) {
        return items("purge = ? ORDER BY num", purge);
    }

    /** The items of a list in one state. */
    public List<Item> items(String purge, ItemState state) {
        return items("purge = ? AND state = ? ORDER BY num", purge, state.word());
    }

    /** How many items of a list are in each state. */
    public Map<ItemState, Integer> tally(String purge) {
        Map<ItemState, Integer> out = new EnumMap<>(ItemState.class);
        read(
                        "SELECT state, count(*) FROM purge_item WHERE purge = ? GROUP BY state",
                        new String[] {purge},
                        row -> Map.entry(ItemState.of(row.text()), (int) row.number()))
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    /**
     * Of each list being carried out the next items in one store: those handed out and not told of yet, where there are none those
     * that wait. So no list waits for what was never told of another.
     */
    public Map<String, List<Item>> next(String store, int most) {
        Map<String, List<Item>> out = new LinkedHashMap<>();
        for (Purge p : lists(" WHERE state = 'running' ORDER BY asked_at, id")) {
            for (ItemState state : List.of(ItemState.HANDED, ItemState.WAITING)) {
                if (!out.containsKey(p.id())) {
                    List<Item> found = items(
                            "purge = ? AND store = ? AND state = ? ORDER BY num LIMIT " + most,
                            p.id(),
                            store,
                            state.word());
                    if (!found.isEmpty()) {
                        out.put(p.id(), found);
                    }
                }
            }
        }
        return out;
    }

    /** When a copy was on a list that was approved, whatever became of it there: its item. */
    public Optional<Item> ofCopy(String backup, String store) {
        return items(
                        "backup = ? AND store = ? AND state IN ('handed', 'deleted', 'missing', 'failed', 'locked')"
                                + " AND purge IN (SELECT id FROM purge WHERE state <> 'asked') ORDER BY at DESC LIMIT 1",
                        backup,
                        store)
                .stream()
                .findFirst();
    }

    private List<Item> items(String which, String... values) {
        return read(
                "SELECT " + ITEM + " FROM purge_item WHERE " + which,
                values,
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
                        row.optionalMoment()));
    }

    /** Who approved a list and when, in the order of time. */
    public Map<String, Instant> approvals(String purge) {
        Map<String, Instant> out = new LinkedHashMap<>();
        read(
                        "SELECT person, at FROM purge_approval WHERE purge = ? ORDER BY at",
                        new String[] {purge},
                        row -> Map.entry(row.text(), row.moment()))
                .forEach(e -> out.put(e.getKey(), e.getValue()));
        return out;
    }

    /** Keeps a list as it is asked for. */
    public Deed ask(Purge purge, List<Item> items, Deed.Told told) {
        return change("The purge could not be asked for", told, purge.askedAt(), connection -> {
            Statement.run(
                    connection, "INSERT INTO purge (" + LIST + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", s -> {
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
                    });
            try (PreparedStatement insert = connection.prepareStatement("INSERT INTO purge_item (purge, " + ITEM
                    + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
                for (Item i : items) {
                    insert.setString(1, purge.id());
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
                    insert.addBatch();
                }
                insert.executeBatch();
            }
        });
    }

    /** Notes that somebody approved a list, and the state that follows. */
    public void approve(
            String purge, String person, PurgeState next, List<Outcome> dropped, Deed.Told told, Instant now) {
        change("The approval could not be kept", told, now, connection -> {
            Statement.run(connection, "INSERT INTO purge_approval VALUES (?, ?, ?)", s -> {
                s.setString(1, purge);
                s.setString(2, person);
                s.setLong(3, now.toEpochMilli());
            });
            outcomes(connection, purge, dropped, now);
            state(connection, purge, next, "");
        });
    }

    /** Changes the state of a list, which with its end by a person is that of its waiting items too, and says in the record who did. */
    public void turn(String purge, PurgeState next, String trouble, Deed.Told told, Instant now) {
        change("The purge could not be changed", told, now, connection -> {
            state(connection, purge, next, trouble);
            if (next == PurgeState.CANCELLED) {
                Statement.run(
                        connection,
                        "UPDATE purge_item SET state = 'cancelled', at = ? WHERE purge = ? AND state = 'waiting'",
                        s -> {
                            s.setLong(1, now.toEpochMilli());
                            s.setString(2, purge);
                        });
            }
        });
    }

    /** Keeps what was found when all of a list had been carried out. */
    public void finish(String purge, String after, Deed.Told told, Instant now) {
        change("The end of the purge could not be kept", told, now, connection -> {
            state(connection, purge, PurgeState.DONE, "");
            Statement.run(connection, "UPDATE purge SET after = ? WHERE id = ?", s -> {
                s.setString(1, after);
                s.setString(2, purge);
            });
        });
    }

    /** Changes the state of items by itself, such as those dropped or handed to an agent. */
    public void note(String purge, List<Outcome> outcomes, Optional<Deed.Told> told, Instant now) {
        transactions.run("What became of the items could not be kept", connection -> {
            outcomes(connection, purge, outcomes, now);
            if (told.isPresent()) {
                Deeds.add(connection, told.get(), now);
            }
            return null;
        });
    }

    /** Changes the state of items within a transaction its owner ends. */
    static void outcomes(Connection connection, String purge, List<Outcome> outcomes, Instant now) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement(
                "UPDATE purge_item SET state = ?, told = ?, freed = ?, at = ? WHERE purge = ? AND num = ?")) {
            for (Outcome o : outcomes) {
                update.setString(1, o.state().word());
                update.setString(2, o.told());
                Columns.set(update, 3, o.freed());
                update.setLong(4, now.toEpochMilli());
                update.setString(5, purge);
                update.setInt(6, o.num());
                update.executeUpdate();
            }
        }
    }

    private static void state(Connection connection, String purge, PurgeState next, String trouble)
            throws SQLException {
        Statement.run(connection, "UPDATE purge SET state = ?, trouble = ? WHERE id = ?", s -> {
            s.setString(1, next.word());
            s.setString(2, trouble);
            s.setString(3, purge);
        });
    }

    private <T> List<T> read(String sql, String[] values, Statement.Row<T> row) {
        return Statement.read(readers, sql, row, "The purges could not be read", values);
    }

    private interface Change {
        void with(Connection connection) throws SQLException;
    }

    private Deed change(String failure, Deed.Told told, Instant now, Change change) {
        return transactions.run(failure, connection -> {
            change.with(connection);
            return Deeds.add(connection, told, now);
        });
    }
}
