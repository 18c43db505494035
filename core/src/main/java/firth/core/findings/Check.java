package firth.core.findings;

import firth.core.model.Worded;
import java.time.Instant;
import java.util.Optional;

/**
 * One line of a database's readiness (docs/semantics.md, "Readiness").
 *
 * @param outdated whether it was told too long ago to count
 * @param detail what is known
 * @param source who said so; empty where nobody did
 * @param at when; empty where nobody did, or where it holds for as long as nothing else is stated
 * @param lasts up to when it is so if it goes on as it was told; empty where nothing wears out
 */
public record Check(
        Item item,
        State state,
        boolean outdated,
        CheckDetail detail,
        Optional<String> source,
        Optional<Instant> at,
        Optional<Instant> lasts) {

    /** Something that does not wear out. */
    public Check(Item item, State state, CheckDetail detail, Optional<String> source, Optional<Instant> at) {
        this(item, state, false, detail, source, at, Optional.empty());
    }

    /** What is looked at. */
    public enum Item implements Worded {
        LOGS,
        RIGHTS,
        PROCESSES,
        SCHEDULER,
        VERSIONS,
        DESTINATION,
        APART,
        LOG_DISK,
        BACKUP,
        NAMES,
        COMPONENTS;
    }

    /** How a line stands, the best first. */
    public enum State implements Worded {
        READY,
        /** Comes by itself with the next restart; backups can begin all the same. */
        WAITING,
        UNKNOWN,
        NOT_READY;
    }
}
