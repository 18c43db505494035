package firth.server.history;

import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.Lineage;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Backups that are on record and restore nothing, as nothing known yet has a place for them. */
final class UncountedBackups {

    private UncountedBackups() {}

    /**
     * Why one counts for nothing at a moment; empty where it does count.
     *
     * @param database the one it is of; empty where that is not enrolled
     */
    static String why(Backup backup, Optional<Database> database, Instant asOf) {
        if (database.isEmpty()) {
            return "counts for nothing: its database is not enrolled";
        }
        Map<String, Lineage> lineages =
                database.get().lineages().stream().collect(Collectors.toMap(Lineage::id, l -> l, (a, b) -> a));
        String lineage =
                backup.lineage().orElse(database.get().lineages().get(0).id());
        if (!lineages.containsKey(lineage)) {
            return "counts for nothing: nobody has told of its lineage " + lineage;
        }
        boolean first = database.get().lineages().get(0).id().equals(lineage);
        if (!first
                && lineages.get(lineage).openedAt().filter(o -> o.isAfter(asOf)).isPresent()) {
            return "counts for nothing: its lineage " + lineage + " had not opened";
        }
        String unlisted = backup.positions().keySet().stream()
                .filter(s -> !database.get().streams().contains(s))
                .sorted()
                .collect(Collectors.joining(", "));
        return unlisted.isEmpty()
                ? ""
                : "what it contains of stream " + unlisted + " counts for nothing: the database lists no such stream";
    }
}
