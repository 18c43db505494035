package firth.core.restore;

import firth.core.model.Kind;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * One thing to do in a restore: read a backup's copy from a store and apply it.
 *
 * @param lineage the lineage the backup belongs to
 * @param stream of a log
 * @param time reading and, for a log, applying; empty where the store's or the database's rate or the size is not known
 */
public record Step(
        Kind kind,
        String backup,
        String store,
        String lineage,
        Optional<String> stream,
        OptionalDouble bytes,
        Optional<Duration> time) {}
