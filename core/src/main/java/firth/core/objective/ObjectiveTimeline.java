package firth.core.objective;

import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/** The objective in force over time for one hazard, in milliseconds; {@link #NONE} where nothing is promised. */
public final class ObjectiveTimeline {

    public static final long NONE = -1;

    private final long[] at;
    private final long[] objective;

    private ObjectiveTimeline(long[] at, long[] objective) {
        this.at = at;
        this.objective = objective;
    }

    public static ObjectiveTimeline of(Fleet fleet, Database database, Hazard hazard) {
        List<Instant> changes =
                fleet.changes(database).stream().distinct().sorted().toList();
        long[] at = new long[changes.size()];
        long[] objective = new long[changes.size()];
        for (int i = 0; i < at.length; i++) {
            at[i] = changes.get(i).toEpochMilli();
            objective[i] = fleet.versionAt(database, changes.get(i))
                    .filter(PolicyVersion::enabled)
                    .map(v -> v.objective().rpo().get(hazard))
                    .map(Duration::toMillis)
                    .orElse(NONE);
        }
        return new ObjectiveTimeline(at, objective);
    }

    /** How many stretches there are in {@code [from, to)}, the first beginning at {@code from}. */
    int stretches() {
        return at.length + 1;
    }

    long fromMs(int stretch) {
        return stretch == 0 ? Long.MIN_VALUE : at[stretch - 1];
    }

    long toMs(int stretch) {
        return stretch < at.length ? at[stretch] : Long.MAX_VALUE;
    }

    long objectiveMs(int stretch) {
        return stretch == 0 ? NONE : objective[stretch - 1];
    }

    public long atMs(long moment) {
        int stretch = 0;
        while (toMs(stretch) <= moment) {
            stretch++;
        }
        return objectiveMs(stretch);
    }
}
