package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import javax.sql.DataSource;

/** The life span of each finding: when Firth first saw it and when it found it gone. One that comes back lives anew. */
public final class Lives {

    private static final String COLUMNS = "key, first, gone, severity, databases, title";

    private final DataSource readers;
    private final DataSource writers;
    private final ReentrantLock writer = new ReentrantLock();

    Lives(DataSource readers, DataSource writers) {
        this.readers = readers;
        this.writers = writers;
    }

    /**
     * One life of a finding.
     *
     * @param gone absent while it lasts
     * @param databases the ids of those it befalls, separated by commas
     */
    public record Life(
            String key, Instant first, Optional<Instant> gone, String severity, String databases, String title) {}

    /** Those that last, by key. */
    public Map<String, Life> open() {
        Map<String, Life> out = new HashMap<>();
        read("WHERE gone IS NULL", s -> {}).forEach(l -> out.put(l.key(), l));
        return out;
    }

    /** Those that began or ended after a moment and up to another, in the order they began. */
    public List<Life> movedBetween(Instant after, Instant to) {
        return read("WHERE first > ?1 AND first <= ?2 OR gone > ?1 AND gone <= ?2 ORDER BY first, key", s -> {
            s.setLong(1, after.toEpochMilli());
            s.setLong(2, to.toEpochMilli());
        });
    }

    /** Those that lasted at some moment of a stretch, in the order they began. */
    public List<Life> during(Instant from, Instant to) {
        return read("WHERE first <= ?2 AND (gone IS NULL OR gone > ?1) ORDER BY first, key", s -> {
            s.setLong(1, from.toEpochMilli());
            s.setLong(2, to.toEpochMilli());
        });
    }

    /** Notes what is found now: what is new begins, what is no longer found is gone. Nothing is written where nothing moved. */
    public void note(List<Life> found, Instant now) {
        writer.lock();
        try {
            Map<String, Life> known = open();
            Map<String, Life> next = new HashMap<>();
            found.forEach(l -> next.put(l.key(), l));
            List<Life> begun =
                    found.stream().filter(l -> !known.containsKey(l.key())).toList();
            List<Life> gone = known.values().stream()
                    .filter(l -> !next.containsKey(l.key()) && l.first().isBefore(now))
                    .toList();
            if (!begun.isEmpty() || !gone.isEmpty()) {
                write(begun, gone, now);
            }
        } finally {
            writer.unlock();
        }
    }

    private void write(List<Life> begun, List<Life> gone, Instant now) {
        try (Connection connection = writers.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement begin = connection.prepareStatement(
                            "INSERT OR IGNORE INTO finding (" + COLUMNS + ") VALUES (?, ?, NULL, ?, ?, ?)");
                    PreparedStatement end =
                            connection.prepareStatement("UPDATE finding SET gone = ? WHERE key = ? AND gone IS NULL")) {
                for (Life l : begun) {
                    begin.setString(1, l.key());
                    begin.setLong(2, now.toEpochMilli());
                    begin.setString(3, l.severity());
                    begin.setString(4, l.databases());
                    begin.setString(5, l.title());
                    begin.executeUpdate();
                }
                for (Life l : gone) {
                    end.setLong(1, now.toEpochMilli());
                    end.setString(2, l.key());
                    end.executeUpdate();
                }
            }
            connection.commit();
        } catch (SQLException e) {
            throw new StoreFailure("The findings could not be noted", e);
        }
    }

    private List<Life> read(String where, Statement.Binding binding) {
        try (Connection connection = readers.getConnection();
                PreparedStatement select =
                        connection.prepareStatement("SELECT " + COLUMNS + " FROM finding " + where)) {
            binding.to(select);
            try (ResultSet rows = select.executeQuery()) {
                List<Life> out = new ArrayList<>();
                for (Cells row = new Cells(rows); row.next(); ) {
                    out.add(new Life(
                            row.text(), row.moment(), row.optionalMoment(), row.text(), row.text(), row.text()));
                }
                return out;
            }
        } catch (SQLException e) {
            throw new StoreFailure("The findings could not be read", e);
        }
    }
}
