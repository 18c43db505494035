package firth.engines;

import firth.core.model.Lineage;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A database as the files of its engine tell of it.
 *
 * @param engine as a fleet file names it
 * @param identity what the engine calls it: a system identifier, the UUID of a server
 * @param version of the engine that wrote the newest file, where it says
 * @param since the earliest moment anything tells of
 * @param lineages its log histories in the order they opened, at least one
 * @param backups data backups and logs
 * @param companions files the engine keeps beside them, which are no strays, as paths from the directory
 */
public record ObservedDatabase(
        String engine,
        String identity,
        Optional<String> version,
        Instant since,
        List<Lineage> lineages,
        List<ObservedBackup> backups,
        List<String> companions) {

    public ObservedDatabase {
        lineages = List.copyOf(lineages);
        backups = List.copyOf(backups);
        companions = List.copyOf(companions);
    }
}
