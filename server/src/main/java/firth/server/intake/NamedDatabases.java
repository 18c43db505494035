package firth.server.intake;

import firth.core.history.Catalog;
import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.FleetRecord;
import firth.core.model.Run;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** Counts, while facts go into a catalog, of which databases they speak: those nobody knows are worth a word. */
final class NamedDatabases implements Catalog {

    /** So many are named. */
    private static final int NAMED = 50;

    private final Catalog catalog;
    private final Map<String, Long> named = new TreeMap<>();
    private final Set<String> stated = new HashSet<>();

    NamedDatabases(Catalog catalog) {
        this.catalog = catalog;
    }

    @Override
    public Change put(FleetRecord record, String document) {
        if (record instanceof Database d) {
            stated.add(d.id());
        }
        return catalog.put(record, document);
    }

    @Override
    public Change put(Run run, Replacing replacing) {
        Change change = catalog.put(run, replacing);
        named.merge(run.database(), 1L, Long::sum);
        return change;
    }

    @Override
    public Change put(Backup backup, Replacing replacing) {
        Change change = catalog.put(backup, replacing);
        named.merge(backup.database(), 1L, Long::sum);
        return change;
    }

    /** Those that are not among the known ones, with how many facts were told of each. */
    List<ImportView.UnknownDatabase> unknown(Collection<String> known) {
        return named.entrySet().stream()
                .filter(e -> !known.contains(e.getKey()) && !stated.contains(e.getKey()))
                .limit(NAMED)
                .map(e -> new ImportView.UnknownDatabase(e.getKey(), e.getValue()))
                .toList();
    }
}
