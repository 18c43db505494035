package firth.core.purge;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Logs that no rule needs yet: they follow a backup whose own logs or parents are still on their way. Once those have landed it restores
 * something, and these lead on from it (docs/semantics.md, "Purging must be safe").
 */
public final class StillComing {

    private final History history;
    /** Data backups that are waited for. */
    private final int[] awaited;

    /** @param now the evaluation at the moment of the purge */
    public StillComing(Evaluation now) {
        this.history = now.history();
        Retention retention = now.retention();
        this.awaited = IntStream.range(0, retention.size())
                .filter(k -> retention.has(k, Reason.LOG_AWAITED) || retention.has(k, Reason.WAITING))
                .map(retention::backup)
                .distinct()
                .toArray();
    }

    /** The backup a log is not purged for though no rule needs it; empty of any other backup, and where it follows none that is waited for. */
    public Optional<String> keeps(int log) {
        return history.kind(log) != Kind.LOG
                ? Optional.empty()
                : Arrays.stream(awaited)
                        .filter(b -> leadsOn(b, log))
                        .mapToObj(history::id)
                        .findFirst();
    }

    private boolean leadsOn(int backup, int log) {
        return history.lineage(log) > history.lineage(backup)
                || history.lineage(log) == history.lineage(backup)
                        && history.logTo(log) >= history.start(backup, history.stream(log));
    }
}
