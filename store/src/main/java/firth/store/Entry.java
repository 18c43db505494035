package firth.store;

import firth.core.model.Backup;
import firth.core.model.Kind;
import firth.core.model.Run;
import java.time.Instant;
import java.util.Optional;

/**
 * A line of history: a backup with the run it came of, where that is known, or a run no backup came of.
 *
 * @param key where it stands among the others
 */
public record Entry(Key key, Optional<Run> run, Optional<Backup> backup) {

    /**
     * The place of a line in history: newest first; where two began at one moment those of a lower table, then of a higher
     * number.
     *
     * @param table 0 of backups, 1 of runs; more than that for those who have further things to put between
     */
    public record Key(long startedMs, int table, long num) implements Comparable<Key> {
        @Override
        public int compareTo(Key other) {
            int byTime = Long.compare(other.startedMs, startedMs);
            int byTable = Integer.compare(table, other.table);
            return byTime != 0 ? byTime : byTable != 0 ? byTable : Long.compare(other.num, num);
        }

        @Override
        public String toString() {
            return startedMs + "." + table + "." + num;
        }

        /** Reads what {@link #toString} wrote; empty where it is something else. */
        public static Optional<Key> of(String text) {
            if (!text.matches("-?\\d{1,18}\\.\\d{1,3}\\.\\d{1,18}")) {
                return Optional.empty();
            }
            String[] parts = text.split("\\.");
            return Optional.of(new Key(Long.parseLong(parts[0]), Integer.parseInt(parts[1]), Long.parseLong(parts[2])));
        }
    }

    public String id() {
        return run.map(Run::id).or(() -> backup.map(Backup::id)).orElseThrow();
    }

    public String database() {
        return backup.map(Backup::database).or(() -> run.map(Run::database)).orElseThrow();
    }

    public Kind kind() {
        return backup.map(Backup::kind).or(() -> run.map(Run::kind)).orElseThrow();
    }

    public Instant started() {
        return run.map(Run::started).or(() -> backup.map(Backup::started)).orElseThrow();
    }

    /** When it ended, whatever was known of that when; absent while it runs. */
    public Optional<Instant> ended() {
        return run.isPresent() ? run.get().ended() : backup.map(Backup::ended);
    }
}
