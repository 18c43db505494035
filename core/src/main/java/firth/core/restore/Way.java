package firth.core.restore;

import firth.core.model.Kind;
import java.time.Duration;
import java.util.List;
import java.util.function.Supplier;

/** One way back: from one data backup. Its many logs become steps only when somebody asks for them. */
public final class Way {

    private final List<Step> before;
    private final Supplier<List<Step>> logs;
    private final String lineage;
    private final int logCount;
    private final Duration time;
    private final boolean timeKnown;

    /**
     * @param before the config backup, if any, and the chain
     * @param logs in the order they are applied
     */
    Way(List<Step> before, Supplier<List<Step>> logs, String lineage, int logCount, Duration time, boolean timeKnown) {
        this.before = List.copyOf(before);
        this.logs = logs;
        this.lineage = lineage;
        this.logCount = logCount;
        this.time = time;
        this.timeKnown = timeKnown;
    }

    /** The newest data backup applied. */
    public String tip() {
        return before.get(before.size() - 1).backup();
    }

    /** The lineage in which the target is reached. */
    public String lineage() {
        return lineage;
    }

    /** The config backup, if there is one. */
    public List<Step> config() {
        return before.stream().filter(s -> s.kind() == Kind.CONFIG).toList();
    }

    /** The data backups from the full to the tip. */
    public List<Step> chain() {
        return before.stream().filter(s -> s.kind().isData()).toList();
    }

    /** The logs of each stream in turn. */
    public List<Step> logs() {
        return logs.get();
    }

    public int logCount() {
        return logCount;
    }

    /** All of it in the order it is done: the config backup, the chain, the logs. */
    public List<Step> steps() {
        return java.util.stream.Stream.concat(before.stream(), logs.get().stream())
                .toList();
    }

    /** The time of all steps whose time is known. */
    public Duration time() {
        return time;
    }

    /** Whether that is all of them. */
    public boolean timeKnown() {
        return timeKnown;
    }

    @Override
    public String toString() {
        return "from " + tip() + " with " + logCount + " logs in " + time;
    }
}
