package firth.store;

import java.sql.SQLException;
import java.sql.Types;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import javax.sql.DataSource;

/** The agents that ask for work: one a store. They are no facts: nothing is judged by them. */
public final class Agents {

    private final DataSource readers;
    private final DataSource writers;

    Agents(DataSource readers, DataSource writers) {
        this.readers = readers;
        this.writers = writers;
    }

    /**
     * An agent.
     *
     * @param heard when it last asked
     * @param every how often it said it would
     * @param room what it measured; empty: nothing yet
     */
    public record Agent(String store, Instant heard, Duration every, Optional<Room> room) {

        /** Whether it should have asked three times over since it was heard. */
        public boolean isSilentAt(Instant now) {
            return now.isAfter(heard.plus(every.multipliedBy(3)));
        }
    }

    /**
     * What an agent measured of its store.
     *
     * @param writable whether it could write there; empty: it is not to try
     * @param locks how files are kept from being deleted, a word of docs/agents.md
     * @param trouble why it could not write; empty where it could
     * @param since from when on it could not; empty where it can
     */
    public record Room(
            Instant measured,
            long freeBytes,
            long capacityBytes,
            Optional<Boolean> writable,
            String locks,
            String trouble,
            Optional<Instant> since) {}

    public Map<String, Agent> all() {
        Map<String, Agent> out = new LinkedHashMap<>();
        Statement.read(
                        readers,
                        "SELECT store, heard, every, measured, free, capacity, writable, locks, trouble, troubled FROM agent ORDER BY store",
                        row -> new Agent(row.text(), row.moment(), Duration.ofMillis(row.number()), room(row)),
                        "The agents could not be read")
                .forEach(a -> out.put(a.store(), a));
        return out;
    }

    private static Optional<Room> room(Cells row) throws SQLException {
        Optional<Instant> measured = row.optionalMoment();
        long free = row.number();
        long capacity = row.number();
        long writable = row.numberOr(-1);
        String locks = row.text();
        String trouble = row.text();
        Optional<Instant> since = row.optionalMoment();
        return measured.map(at -> new Room(
                at,
                free,
                capacity,
                writable < 0 ? Optional.empty() : Optional.of(writable == 1),
                locks,
                trouble,
                since));
    }

    public void heard(String store, Instant now, Duration every) {
        Statement.run(
                writers,
                "INSERT INTO agent (store, heard, every) VALUES (?, ?, ?) ON CONFLICT (store) DO UPDATE SET heard = excluded.heard, every = excluded.every",
                s -> {
                    s.setString(1, store);
                    s.setLong(2, now.toEpochMilli());
                    s.setLong(3, every.toMillis());
                },
                "The sign of life could not be noted");
    }

    /** Keeps what one measured. It has asked before; of one that never did nothing is kept. */
    public void measured(String store, Room room) {
        Statement.run(
                writers,
                "UPDATE agent SET measured = ?1, free = ?2, capacity = ?3, writable = ?4, locks = ?5, trouble = ?6,"
                        + " troubled = CASE WHEN ?6 = '' THEN NULL ELSE coalesce(troubled, ?1) END WHERE store = ?7",
                s -> {
                    s.setLong(1, room.measured().toEpochMilli());
                    s.setLong(2, room.freeBytes());
                    s.setLong(3, room.capacityBytes());
                    if (room.writable().isPresent()) {
                        s.setBoolean(4, room.writable().get());
                    } else {
                        s.setNull(4, Types.INTEGER);
                    }
                    s.setString(5, room.locks());
                    s.setString(6, room.trouble());
                    s.setString(7, store);
                },
                "What was measured could not be kept");
    }
}
