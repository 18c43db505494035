package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import javax.sql.DataSource;

/** Policies as somebody is writing them. They are no facts: nothing is judged by a draft. */
public final class Drafts {

    private final DataSource readers;
    private final DataSource writers;

    Drafts(DataSource readers, DataSource writers) {
        this.readers = readers;
        this.writers = writers;
    }

    /** A policy being written, as text of the exchange format. */
    public record Draft(String policy, Instant saved, String document) {}

    /** All drafts by policy. */
    public Map<String, Draft> all() {
        try (Connection connection = readers.getConnection();
                PreparedStatement select = connection.prepareStatement("SELECT policy, saved, document FROM draft");
                ResultSet rows = select.executeQuery()) {
            Map<String, Draft> out = new TreeMap<>();
            for (Cells row = new Cells(rows); row.next(); ) {
                String policy = row.text();
                out.put(policy, new Draft(policy, row.moment(), row.text()));
            }
            return out;
        } catch (SQLException e) {
            throw new StoreFailure("The drafts could not be read", e);
        }
    }

    public Optional<Draft> of(String policy) {
        return Optional.ofNullable(all().get(policy));
    }

    /** Keeps a draft in the place of the one before. */
    public void put(Draft draft) {
        change("INSERT OR REPLACE INTO draft (policy, saved, document) VALUES (?, ?, ?)", s -> {
            s.setString(1, draft.policy());
            s.setLong(2, draft.saved().toEpochMilli());
            s.setString(3, draft.document());
        });
    }

    public void remove(String policy) {
        change("DELETE FROM draft WHERE policy = ?", s -> s.setString(1, policy));
    }

    private void change(String sql, Statement.Binding binding) {
        Statement.run(writers, sql, binding, "The draft could not be kept; what was kept before is unharmed");
    }
}
