package firth.core.cover;

import firth.core.model.Worded;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A hole in a database's logs: no available log holds the positions {@code [from, to)}.
 *
 * @param after the time the logs before it reach
 * @param before the time the logs after it begin
 * @param bridgedBy the first data backup that begins cover again after it; absent while it is unbridged
 * @param logs the ids of lost logs that held positions of it
 * @param failedRuns the ids of failed log runs that started in it
 */
public record Gap(
        String lineage,
        String stream,
        long from,
        long to,
        Optional<Instant> after,
        Optional<Instant> before,
        Optional<String> bridgedBy,
        Cause cause,
        List<String> logs,
        List<String> failedRuns) {

    public boolean bridged() {
        return bridgedBy.isPresent();
    }

    /** Why there is no log, the first that fits. */
    public enum Cause implements Worded {
        PURGED("purged"),
        SPOILED("spoiled"),
        FAILED("failed"),
        NEVER_BACKED_UP("never-backed-up");

        private final String word;

        Cause(String word) {
            this.word = word;
        }

        @Override
        public String word() {
            return word;
        }
    }
}
