package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import javax.sql.DataSource;

/** Who may do what: people, their sessions, and the tokens of programs. Secrets are kept as hashes alone. */
public final class People {

    private final DataSource readers;
    private final Transactions transactions;

    People(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * A person.
     *
     * @param id what they sign in by
     * @param password its hash; empty where another service vouches for them
     * @param away whether they may not sign in any more; their name stays in the record
     * @param failures how often in a row a wrong password was given
     * @param lockedUntil until when no password is looked at
     */
    public record Person(
            String id,
            String name,
            Optional<String> password,
            Set<String> roles,
            boolean away,
            int failures,
            Optional<Instant> lockedUntil) {}

    /** A browser somebody is signed in at. */
    public record Session(String hash, Person person, Instant started, Instant seen) {}

    /**
     * What a program shows.
     *
     * @param place the one store or host it may speak of; empty where it is bound to none
     * @param until when it ends; empty: when revoked
     */
    public record Token(
            String hash,
            String id,
            String name,
            Set<String> roles,
            Optional<String> place,
            Instant made,
            String by,
            Optional<Instant> until,
            Optional<Instant> used,
            Optional<Instant> revoked) {

        public boolean isGoodAt(Instant now) {
            return revoked.isEmpty() && until.map(now::isBefore).orElse(true);
        }
    }

    private static final String PERSON = "p.id, p.name, p.password, p.roles, p.away, p.failures, p.locked_until";
    private static final String TOKEN = "hash, id, name, roles, place, made, by, until, used, revoked";

    private static Person person(Cells row) throws SQLException {
        return new Person(
                row.text(),
                row.text(),
                row.optionalText(),
                set(row.text()),
                row.flag(),
                (int) row.number(),
                row.optionalMoment());
    }

    private static Token token(Cells row) throws SQLException {
        return new Token(
                row.text(),
                row.text(),
                row.text(),
                set(row.text()),
                row.optionalText(),
                row.moment(),
                row.text(),
                row.optionalMoment(),
                row.optionalMoment(),
                row.optionalMoment());
    }

    private static Set<String> set(String words) {
        Set<String> out = new TreeSet<>(Arrays.asList(words.split(" ")));
        out.remove("");
        return out;
    }

    private <T> List<T> read(String sql, Statement.Row<T> row, String... values) {
        return Statement.read(readers, sql, row, "Who may do what could not be read", values);
    }

    public List<Person> all() {
        return read("SELECT " + PERSON + " FROM person p ORDER BY p.name, p.id", People::person);
    }

    public Optional<Person> find(String id) {
        return read("SELECT " + PERSON + " FROM person p WHERE p.id = ?", People::person, id).stream()
                .findFirst();
    }

    /** Keeps a person, in the place of the one of that id, and says so in the record. */
    public void put(Person person, Deed.Told told, Instant now) {
        change("The person could not be kept", told, now, connection -> {
            Statement.run(
                    connection,
                    "INSERT INTO person (id, name, password, roles, away, failures, locked_until)"
                            + " VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET name = excluded.name,"
                            + " password = excluded.password, roles = excluded.roles, away = excluded.away,"
                            + " failures = excluded.failures, locked_until = excluded.locked_until",
                    s -> {
                        s.setString(1, person.id());
                        s.setString(2, person.name());
                        Columns.set(s, 3, person.password());
                        s.setString(4, String.join(" ", person.roles()));
                        s.setBoolean(5, person.away());
                        s.setInt(6, person.failures());
                        Columns.setMoment(s, 7, person.lockedUntil());
                    });
            if (person.away()) {
                Statement.run(connection, "DELETE FROM session WHERE person = ?", s -> s.setString(1, person.id()));
            }
        });
    }

    /** Keeps how often in a row a wrong password was given. */
    public void failed(String person, int failures, Optional<Instant> lockedUntil) {
        transactions.change("The sign-in could not be noted", connection -> {
            Statement.run(connection, "UPDATE person SET failures = ?, locked_until = ? WHERE id = ?", s -> {
                s.setInt(1, failures);
                Columns.setMoment(s, 2, lockedUntil);
                s.setString(3, person);
            });
        });
    }

    /** Begins a session of somebody who has shown who they are. */
    public void begin(String hash, String person, Deed.Told told, Instant now) {
        change("The session could not be begun", told, now, connection -> {
            Statement.run(
                    connection,
                    "UPDATE person SET failures = 0, locked_until = NULL WHERE id = ?",
                    s -> s.setString(1, person));
            Statement.run(connection, "INSERT INTO session VALUES (?, ?, ?, ?)", s -> {
                s.setString(1, hash);
                s.setString(2, person);
                s.setLong(3, now.toEpochMilli());
                s.setLong(4, now.toEpochMilli());
            });
        });
    }

    public Optional<Session> session(String hash) {
        return read(
                        "SELECT s.hash, s.started, s.seen, " + PERSON
                                + " FROM session s JOIN person p ON p.id = s.person WHERE s.hash = ?",
                        row -> {
                            String of = row.text();
                            Instant started = row.moment();
                            Instant seen = row.moment();
                            return new Session(of, person(row), started, seen);
                        },
                        hash)
                .stream()
                .findFirst();
    }

    /** Notes that a session was used, and lets go of those not used since a moment. */
    public void seen(String hash, Instant now, Duration idle) {
        transactions.change("The session could not be kept", connection -> {
            Statement.run(connection, "UPDATE session SET seen = ? WHERE hash = ?", s -> {
                s.setLong(1, now.toEpochMilli());
                s.setString(2, hash);
            });
            Statement.run(
                    connection,
                    "DELETE FROM session WHERE seen < ?",
                    s -> s.setLong(1, now.minus(idle).toEpochMilli()));
        });
    }

    public void end(String hash, Deed.Told told, Instant now) {
        change(
                "The session could not be ended",
                told,
                now,
                connection ->
                        Statement.run(connection, "DELETE FROM session WHERE hash = ?", s -> s.setString(1, hash)));
    }

    public List<Token> tokens() {
        return read("SELECT " + TOKEN + " FROM token ORDER BY made, id", People::token);
    }

    public Optional<Token> token(String hash) {
        return read("SELECT " + TOKEN + " FROM token WHERE hash = ?", People::token, hash).stream()
                .findFirst();
    }

    /** Keeps a token, in the place of the one of that hash, and says so in the record. */
    public void put(Token token, Deed.Told told, Instant now) {
        change(
                "The token could not be kept",
                told,
                now,
                connection -> Statement.run(
                        connection,
                        "INSERT OR REPLACE INTO token (" + TOKEN + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                        s -> {
                            s.setString(1, token.hash());
                            s.setString(2, token.id());
                            s.setString(3, token.name());
                            s.setString(4, String.join(" ", token.roles()));
                            Columns.set(s, 5, token.place());
                            s.setLong(6, token.made().toEpochMilli());
                            s.setString(7, token.by());
                            Columns.setMoment(s, 8, token.until());
                            Columns.setMoment(s, 9, token.used());
                            Columns.setMoment(s, 10, token.revoked());
                        }));
    }

    public void used(String hash, Instant now) {
        transactions.change("The use of a token could not be noted", connection -> {
            Statement.run(connection, "UPDATE token SET used = ? WHERE hash = ?", s -> {
                s.setLong(1, now.toEpochMilli());
                s.setString(2, hash);
            });
        });
    }

    private interface Change {
        void with(Connection connection) throws SQLException;
    }

    private void change(String failure, Deed.Told told, Instant now, Change change) {
        transactions.run(failure, connection -> {
            change.with(connection);
            return Deeds.add(connection, told, now);
        });
    }
}
