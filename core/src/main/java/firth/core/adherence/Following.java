package firth.core.adherence;

import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Then;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A backup that is to follow another and has not yet (docs/semantics.md, "How backups are taken").
 *
 * @param first the newest backup of the kinds it follows
 * @param ended when that ended
 * @param newest the newest of its own kind, by its id; empty where there is none
 */
public record Following(Then rule, Kind after, String first, Instant ended, Optional<Newest> newest) {

    /** The newest of the kind that is to follow, and from when it is: when it began, or, of logs, up to when it reaches. */
    public record Newest(String id, Instant from) {}

    /** What was not taken in time is still caught up with for so long. */
    public static final Duration CAUGHT_UP = Duration.ofDays(1);

    /** By when it must have begun. */
    public Instant until() {
        return ended.plus(rule.within());
    }

    /** Up to when it is still started. */
    Instant givenUp() {
        Instant day = ended.plus(CAUGHT_UP);
        return day.isAfter(until()) ? day : until();
    }

    /** What has not followed by a moment what it is to follow, by the newest of that alone. */
    public static List<Following> of(History history, PolicyVersion version, Instant now) {
        return version.follows().stream()
                .flatMap(rule -> find(history, rule, now, now).stream())
                .toList();
    }

    /** What ought to have followed by a moment: of what it is to follow the newest counts that has had longer than is allowed. */
    public static List<Following> late(History history, PolicyVersion version, Instant now) {
        return version.follows().stream()
                .flatMap(rule -> find(history, rule, now.minus(rule.within()).minusMillis(1), now).stream())
                .toList();
    }

    /** @param by when what it is to follow must have ended */
    private static Optional<Following> find(History history, Then rule, Instant by, Instant now) {
        int first = -1;
        for (int i : history.others()) {
            if (rule.after().contains(history.kind(i))
                    && history.endedMs(i) <= by.toEpochMilli()
                    && (first < 0 || history.endedMs(i) > history.endedMs(first))) {
                first = i;
            }
        }
        if (first < 0) {
            return Optional.empty();
        }
        int newest = newest(history, rule.take(), now.toEpochMilli());
        if (newest >= 0 && from(history, newest) >= history.endedMs(first)) {
            return Optional.empty();
        }
        Optional<Newest> known = newest < 0
                ? Optional.empty()
                : Optional.of(new Newest(history.id(newest), Instant.ofEpochMilli(from(history, newest))));
        return Optional.of(new Following(
                rule, history.kind(first), history.id(first), Instant.ofEpochMilli(history.endedMs(first)), known));
    }

    private static int newest(History history, Kind kind, long now) {
        int out = -1;
        if (kind == Kind.LOG) {
            for (int i = 0; i < history.size(); i++) {
                out = history.kind(i) == kind ? later(history, i, out, now) : out;
            }
        } else {
            for (int i : history.others()) {
                out = history.kind(i) == kind ? later(history, i, out, now) : out;
            }
        }
        return out;
    }

    private static int later(History history, int i, int than, long now) {
        boolean there = history.endedMs(i) <= now;
        return there && (than < 0 || from(history, i) > from(history, than)) ? i : than;
    }

    private static long from(History history, int i) {
        return history.kind(i) == Kind.LOG ? history.toTimeMs(i) : history.startedMs(i);
    }
}
