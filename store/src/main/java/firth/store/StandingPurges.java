package firth.store;

import firth.core.model.Worded;
import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;

/** Rules by which what is obsolete goes by itself, and what became of their nights. They change within {@link Purges#act} alone. */
public final class StandingPurges {

    private static final String RULE = "num, policy, rule, hash, reason, state, by, at, agreed_by, agreed_at, ended_at";
    private static final String NIGHT = "num, night, purge, at, said";
    private static final String FAILURE = "The standing purges could not be read";

    private final DataSource readers;

    StandingPurges(DataSource readers) {
        this.readers = readers;
    }

    /** How far a rule has come. */
    public enum State implements Worded {
        PROPOSED,
        IN_FORCE,
        WITHDRAWN,
        REPLACED;
    }

    /**
     * A rule.
     *
     * @param rule what it says, as JSON
     * @param hash over its policy and what it says
     * @param by who proposed it
     * @param agreedBy who put it in force
     * @param ended when it was withdrawn or another took its place
     */
    public record Rule(
            long num,
            String policy,
            String rule,
            String hash,
            String reason,
            State state,
            String by,
            Instant at,
            Optional<String> agreedBy,
            Optional<Instant> agreedAt,
            Optional<Instant> ended) {}

    /**
     * What became of a night of a rule.
     *
     * @param purge the list that was made for it; empty where none was
     * @param said why none was; empty where one was
     */
    public record Night(long num, LocalDate date, Optional<String> purge, Instant at, String said) {}

    private static Rule rule(Cells row) throws SQLException {
        return new Rule(
                row.number(),
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                Worded.of(State.class, row.text()),
                row.text(),
                row.moment(),
                row.optionalText(),
                row.optionalMoment(),
                row.optionalMoment());
    }

    private static Night night(Cells row) throws SQLException {
        return new Night(row.number(), LocalDate.parse(row.text()), row.optionalText(), row.moment(), row.text());
    }

    /** Those that are proposed or in force, by policy. */
    public List<Rule> current() {
        return Statement.read(
                readers,
                "SELECT " + RULE + " FROM standing_purge WHERE state IN ('proposed', 'in-force') ORDER BY policy, num",
                StandingPurges::rule,
                FAILURE);
    }

    public Optional<Rule> find(long num) {
        return Statement.read(
                        readers,
                        "SELECT " + RULE + " FROM standing_purge WHERE num = CAST(? AS INTEGER)",
                        StandingPurges::rule,
                        FAILURE,
                        String.valueOf(num))
                .stream()
                .findFirst();
    }

    /** The nights of a policy's rules from a day on, the latest first. */
    public List<Night> nights(String policy, LocalDate from) {
        return Statement.read(
                readers,
                "SELECT " + NIGHT
                        + " FROM standing_night WHERE num IN (SELECT num FROM standing_purge WHERE policy = ?)"
                        + " AND night >= ? ORDER BY night DESC, num DESC",
                StandingPurges::night,
                FAILURE,
                policy,
                from.toString());
    }

    /** The night a list was made for. */
    public Optional<Night> nightOf(String purge) {
        return Statement.read(
                        readers,
                        "SELECT " + NIGHT + " FROM standing_night WHERE purge = ?",
                        StandingPurges::night,
                        FAILURE,
                        purge)
                .stream()
                .findFirst();
    }

    /** The nights whose lists are not over. */
    public List<Night> unfinished() {
        return Statement.read(
                readers,
                "SELECT " + NIGHT + " FROM standing_night WHERE purge IN (SELECT id FROM purge WHERE state IN"
                        + " ('asked', 'approved', 'running', 'paused')) ORDER BY night, num",
                StandingPurges::night,
                FAILURE);
    }

    /** Keeps a rule as it is proposed; its number is the next there is. */
    static long propose(Connection c, Rule rule) throws SQLException {
        Statement.run(
                c,
                "INSERT INTO standing_purge (policy, rule, hash, reason, state, by, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
                s -> {
                    s.setString(1, rule.policy());
                    s.setString(2, rule.rule());
                    s.setString(3, rule.hash());
                    s.setString(4, rule.reason());
                    s.setString(5, State.PROPOSED.word());
                    s.setString(6, rule.by());
                    s.setLong(7, rule.at().toEpochMilli());
                });
        try (PreparedStatement last = c.prepareStatement("SELECT last_insert_rowid()")) {
            Cells cells = new Cells(last.executeQuery());
            cells.next();
            return cells.number();
        }
    }

    /** Changes the state of a rule that is as it was seen. */
    static void turn(Connection c, Rule seen, State next, Instant now) throws SQLException {
        try (PreparedStatement update =
                c.prepareStatement("UPDATE standing_purge SET state = ?, ended_at = ? WHERE num = ? AND state = ?")) {
            update.setString(1, next.word());
            Columns.setMoment(update, 2, next == State.IN_FORCE ? Optional.empty() : Optional.of(now));
            update.setLong(3, seen.num());
            update.setString(4, seen.state().word());
            if (update.executeUpdate() == 0) {
                throw new Changed("The standing purge " + seen.num() + " is no longer "
                        + seen.state().word() + ".");
            }
        }
    }

    /** Puts a proposed rule in force, in the place of any other of its policy. */
    static void agree(Connection c, Rule seen, String by, Instant now) throws SQLException {
        Statement.run(
                c,
                "UPDATE standing_purge SET state = 'replaced', ended_at = ? WHERE policy = ? AND state = 'in-force'",
                s -> {
                    s.setLong(1, now.toEpochMilli());
                    s.setString(2, seen.policy());
                });
        turn(c, seen, State.IN_FORCE, now);
        Statement.run(c, "UPDATE standing_purge SET agreed_by = ?, agreed_at = ? WHERE num = ?", s -> {
            s.setString(1, by);
            s.setLong(2, now.toEpochMilli());
            s.setLong(3, seen.num());
        });
    }

    /** Notes what became of a night; a night with a list keeps it. */
    static void note(Connection c, Night night) throws SQLException {
        Statement.run(
                c,
                "INSERT INTO standing_night (" + NIGHT
                        + ") VALUES (?, ?, ?, ?, ?) ON CONFLICT (num, night) DO UPDATE SET"
                        + " purge = excluded.purge, at = excluded.at, said = excluded.said WHERE purge IS NULL",
                s -> {
                    s.setLong(1, night.num());
                    s.setString(2, night.date().toString());
                    Columns.set(s, 3, night.purge());
                    s.setLong(4, night.at().toEpochMilli());
                    s.setString(5, night.said());
                });
    }

    /** What may be done with rules within a transaction. */
    public static final class Steps {

        private final Connection connection;

        Steps(Connection connection) {
            this.connection = connection;
        }

        private interface Doing<T> {
            T with(Connection c) throws SQLException;
        }

        private <T> T tried(Doing<T> doing) {
            try {
                return doing.with(connection);
            } catch (SQLException e) {
                throw new Purges.Flaw(e);
            }
        }

        private List<Rule> rules(String where, String value) {
            return tried(c -> Purges.read(
                    c, "SELECT " + RULE + " FROM standing_purge WHERE " + where, StandingPurges::rule, value));
        }

        public Optional<Rule> find(long num) {
            return rules("num = CAST(? AS INTEGER)", String.valueOf(num)).stream()
                    .findFirst();
        }

        /** The one that waits for a second person. */
        public Optional<Rule> proposed(String policy) {
            return rules("policy = ? AND state = 'proposed'", policy).stream().findFirst();
        }

        /** @return its number */
        public long propose(Rule rule) {
            return tried(c -> StandingPurges.propose(c, rule));
        }

        public void tell(Deed.Told told, Instant now) {
            tried(c -> Deeds.add(c, told, now));
        }

        public void agree(Rule seen, String by, Deed.Told told, Instant now) {
            tried(c -> {
                StandingPurges.agree(c, seen, by, now);
                return Deeds.add(c, told, now);
            });
        }

        public void withdraw(Rule seen, Deed.Told told, Instant now) {
            tried(c -> {
                turn(c, seen, State.WITHDRAWN, now);
                return Deeds.add(c, told, now);
            });
        }

        /** What is known of a night. */
        public Optional<Night> night(long num, LocalDate date) {
            return tried(c -> Purges.read(
                            c,
                            "SELECT " + NIGHT + " FROM standing_night WHERE num = CAST(? AS INTEGER) AND night = ?",
                            StandingPurges::night,
                            String.valueOf(num),
                            date.toString()))
                    .stream()
                    .findFirst();
        }

        public void note(Night night) {
            tried(c -> {
                StandingPurges.note(c, night);
                return night;
            });
        }
    }
}
