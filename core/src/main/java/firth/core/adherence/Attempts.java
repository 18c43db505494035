package firth.core.adherence;

import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.model.Trigger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The runs of a database as known at a moment; a backup whose run is not known is its own ok run. */
public final class Attempts {

    private Attempts() {}

    /** What had started by now of the kinds asked for, or names a slot, in the order it started. */
    public static List<Attempt> known(History history, Instant now, Set<Kind> kinds) {
        List<Attempt> out = new ArrayList<>();
        Set<String> runs = new HashSet<>();
        for (Run run : history.runs()) {
            if (!run.started().isAfter(now)) {
                runs.add(run.id());
                if (kinds.contains(run.kind()) || run.slot().isPresent()) {
                    out.add(attempt(run, now));
                }
            }
        }
        for (int i : history.others()) {
            backup(history, i, now, kinds, runs, out);
        }
        for (int i = 0; i < history.size() && kinds.contains(Kind.LOG); i++) {
            if (history.kind(i) == Kind.LOG) {
                backup(history, i, now, kinds, runs, out);
            }
        }
        out.sort(Comparator.comparing(Attempt::started).thenComparing(Attempt::id));
        return out;
    }

    /** Adds a backup whose run is not known. */
    private static void backup(
            History history, int i, Instant now, Set<Kind> kinds, Set<String> runs, List<Attempt> out) {
        Instant started = Instant.ofEpochMilli(history.startedMs(i));
        if (kinds.contains(history.kind(i))
                && !started.isAfter(now)
                && history.runId(i).filter(runs::contains).isEmpty()) {
            Instant ended = Instant.ofEpochMilli(history.endedMs(i));
            boolean over = !ended.isAfter(now);
            out.add(new Attempt(
                    history.id(i),
                    history.kind(i),
                    false,
                    Optional.empty(),
                    started,
                    over ? Optional.of(ended) : Optional.empty(),
                    over ? Attempt.Progress.OK : Attempt.Progress.RUNNING));
        }
    }

    private static Attempt attempt(Run run, Instant now) {
        boolean running = run.outcome() == Outcome.RUNNING
                || run.ended().filter(now::isBefore).isPresent();
        Attempt.Progress state = running
                ? Attempt.Progress.RUNNING
                : run.outcome() == Outcome.OK ? Attempt.Progress.OK : Attempt.Progress.UNSUCCESSFUL;
        return new Attempt(
                run.id(),
                run.kind(),
                run.trigger().filter(Trigger.HAND::equals).isPresent(),
                run.slot(),
                run.started(),
                running ? Optional.empty() : run.ended().or(() -> Optional.of(run.started())),
                state);
    }
}
