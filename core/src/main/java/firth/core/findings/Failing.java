package firth.core.findings;

import firth.core.history.History;
import firth.core.model.Run;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Runs of a database that failed again and again up to now.
 *
 * @param first when the first of them started
 * @param message what the last of them said
 * @param ids of the last of them, the newest first
 */
public record Failing(int runs, Instant first, Optional<String> message, List<String> ids) {

    private static final int NAMED = 5;

    /** Those of log runs or of data runs that started after a moment; empty where none did. */
    static Optional<Failing> since(History history, boolean logs, Instant after, Instant now) {
        List<Run> failed = (logs ? history.failedLogRuns() : history.failedDataRuns())
                .stream()
                        .filter(r -> r.started().isAfter(after) && !r.started().isAfter(now))
                        .toList();
        return failed.isEmpty() ? Optional.empty() : Optional.of(of(failed));
    }

    static Failing of(List<Run> failed) {
        Run last = failed.get(failed.size() - 1);
        return new Failing(
                failed.size(),
                failed.get(0).started(),
                last.message(),
                IntStream.rangeClosed(1, Math.min(NAMED, failed.size()))
                        .mapToObj(n -> failed.get(failed.size() - n).id())
                        .toList());
    }

    /** What they share with runs of other databases that fail for the same reason: the message without the database's name. */
    Optional<String> cause(String... names) {
        return message.map(m -> {
            String out = m;
            for (String name : names) {
                out = out.replace(name, "…");
            }
            return "failing:" + out;
        });
    }
}
