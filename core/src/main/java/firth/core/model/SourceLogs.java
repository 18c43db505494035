package firth.core.model;

import java.util.Optional;

/**
 * What becomes of the logs at the source, where the engine wrote them (docs/semantics.md, "How backups are taken").
 *
 * @param afterCopies in how many stores each must have arrived before it is deleted there, 1 or more; empty: nothing is asked
 */
public record SourceLogs(By deletedBy, Optional<Integer> afterCopies) {

    /** Who deletes them. */
    public enum By implements Worded {
        ENGINE,
        RUNNER
    }
}
