package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import javax.sql.DataSource;

/** The runners that ask for work: one a host. They are no facts: nothing is judged by them. */
public final class Runners {

    private final DataSource readers;
    private final DataSource writers;

    Runners(DataSource readers, DataSource writers) {
        this.readers = readers;
        this.writers = writers;
    }

    /**
     * A runner.
     *
     * @param heard when it last asked
     * @param every how often it said it would
     * @param versions by policy, the version it has taken note of
     */
    public record Runner(String host, Instant heard, Duration every, Map<String, Integer> versions) {

        /** Whether it should have asked three times over since it was heard. */
        public boolean isSilentAt(Instant now) {
            return now.isAfter(silentFrom());
        }

        /** When it counts as silent if nothing more is heard. */
        public Instant silentFrom() {
            return heard.plus(every.multipliedBy(3));
        }
    }

    /** All runners by host. */
    public Map<String, Runner> all() {
        try (Connection connection = readers.getConnection()) {
            Map<String, Map<String, Integer>> versions = new TreeMap<>();
            try (PreparedStatement select =
                            connection.prepareStatement("SELECT host, policy, version FROM runner_policy");
                    ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    versions.computeIfAbsent(row.text(), h -> new TreeMap<>()).put(row.text(), (int) row.number());
                }
            }
            Map<String, Runner> out = new TreeMap<>();
            try (PreparedStatement select = connection.prepareStatement("SELECT host, heard, every FROM runner");
                    ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    String host = row.text();
                    out.put(
                            host,
                            new Runner(
                                    host,
                                    row.moment(),
                                    Duration.ofMillis(row.number()),
                                    versions.getOrDefault(host, Map.of())));
                }
            }
            return out;
        } catch (SQLException e) {
            throw new StoreFailure("The runners could not be read", e);
        }
    }

    /** Notes that a runner asked. */
    public void heard(String host, Instant at, Duration every) {
        change("INSERT OR REPLACE INTO runner (host, heard, every) VALUES (?, ?, ?)", s -> {
            s.setString(1, host);
            s.setLong(2, at.toEpochMilli());
            s.setLong(3, every.toMillis());
        });
    }

    /** Notes that a runner works by a version of a policy from now on. */
    public void acknowledged(String host, String policy, int version, Instant at) {
        change("INSERT OR REPLACE INTO runner_policy (host, policy, version, acknowledged) VALUES (?, ?, ?, ?)", s -> {
            s.setString(1, host);
            s.setString(2, policy);
            s.setInt(3, version);
            s.setLong(4, at.toEpochMilli());
        });
    }

    private void change(String sql, Statement.Binding binding) {
        Statement.run(writers, sql, binding, "What a runner said could not be noted");
    }
}
