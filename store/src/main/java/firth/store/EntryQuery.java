package firth.store;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** The condition of a statement over history, put together with the values it needs. */
final class EntryQuery {

    private final StringBuilder where = new StringBuilder();
    private final List<Object> values = new ArrayList<>();

    private EntryQuery() {}

    /** Backups; their table is called b. */
    static EntryQuery backups(EntryFilter f, Optional<String> only) {
        EntryQuery q = new EntryQuery();
        if (f.leavesOutLogs()) {
            q.and("b.kind <> 'log'");
        }
        q.time("b", f);
        q.kinds("b", f);
        q.databases("b", f, only);
        if (!f.outcomes().isEmpty() && !f.outcomes().contains(Outcome.RUNNING)) {
            q.and("b.ended <= ?", f.asOf().toEpochMilli());
        } else if (!f.outcomes().isEmpty() && !f.outcomes().contains(Outcome.OK)) {
            q.and("b.ended > ?", f.asOf().toEpochMilli());
        }
        f.store()
                .ifPresent(s -> q.and(
                        "EXISTS (SELECT 1 FROM copy c WHERE c.backup = b.num AND c.store = ? AND c.landed <= ?)",
                        s,
                        f.asOf().toEpochMilli()));
        for (EntryFilter.Word w : f.words()) {
            q.word("b", List.of("b.id", "b.run", "b.rest"), w);
        }
        return q;
    }

    /** Runs no backup came of; their table is called r. */
    static EntryQuery runs(EntryFilter f, Optional<String> only) {
        EntryQuery q = new EntryQuery();
        q.and("r.bare = 1");
        q.time("r", f);
        q.kinds("r", f);
        q.databases("r", f, only);
        if (!f.outcomes().isEmpty()) {
            q.and(
                    "iif(r.ended > ?, 'running', r.outcome) IN ("
                            + words(f.outcomes().stream().map(Outcome::word).toList()) + ")",
                    f.asOf().toEpochMilli());
        }
        if (f.store().isPresent()) {
            q.and("0");
        }
        for (EntryFilter.Word w : f.words()) {
            q.word("r", List.of("r.id", "r.message", "r.rest"), w);
        }
        return q;
    }

    private void time(String table, EntryFilter f) {
        and(
                table + ".started BETWEEN ? AND ?",
                f.from().toEpochMilli(),
                f.asOf().toEpochMilli());
    }

    private void kinds(String table, EntryFilter f) {
        if (!f.kinds().isEmpty()) {
            and(table + ".kind IN (" + words(f.kinds().stream().map(Kind::word).toList()) + ")");
        }
    }

    private void databases(String table, EntryFilter f, Optional<String> only) {
        if (only.isPresent()) {
            and(table + ".database = ?", only.get());
        } else if (f.databases().isPresent()) {
            // The plus keeps the planner on the order of time, which ends a page early.
            and(
                    "+" + table + ".database IN (SELECT value FROM json_each(?))",
                    json(f.databases().get()));
        }
    }

    private void word(String table, List<String> columns, EntryFilter.Word word) {
        List<Object> own = new ArrayList<>();
        StringBuilder any = new StringBuilder("(");
        for (String column : columns) {
            any.append(column).append(" LIKE ? ESCAPE '\\' OR ");
            own.add("%" + word.text().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%");
        }
        own.add(json(word.databases()));
        and(any + "+" + table + ".database IN (SELECT value FROM json_each(?)))", own.toArray());
    }

    /** Where to go on from: what stands after a line of a table. */
    EntryQuery after(String table, int number, Entry.Key key) {
        if (key.table() == number) {
            return and("(" + table + ".started, " + table + ".num) < (?, ?)", key.startedMs(), key.num());
        }
        return and(table + ".started " + (key.table() < number ? "<=" : "<") + " ?", key.startedMs());
    }

    private EntryQuery and(String condition, Object... with) {
        where.append(where.isEmpty() ? " WHERE " : " AND ").append(condition);
        values.addAll(List.of(with));
        return this;
    }

    String where() {
        return where.toString();
    }

    /** Sets the values; gives the place after them. */
    int bind(PreparedStatement to) throws SQLException {
        int at = 1;
        for (Object value : values) {
            to.setObject(at++, value);
        }
        return at;
    }

    /** Words of our own as a list in SQL. */
    private static String words(Collection<String> ours) {
        return "'" + String.join("', '", ours) + "'";
    }

    /** Ids as a JSON list: they hold neither quotes nor backslashes. */
    private static String json(Collection<String> ids) {
        return ids.isEmpty() ? "[]" : "[\"" + String.join("\",\"", ids) + "\"]";
    }
}
