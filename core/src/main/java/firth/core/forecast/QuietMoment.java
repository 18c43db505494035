package firth.core.forecast;

import firth.core.adherence.Attempt;
import firth.core.adherence.Attempts;
import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.adherence.Slots;
import firth.core.history.History;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The next moment at which rules can change without anybody being caught between two of them: no follower is inside a
 * start window, its grace included, and none has a backup running.
 *
 * @param waitsFor the database whose window or run ends last before it, where it is not at once
 * @param schedule that window's schedule, where it is a window
 */
public record QuietMoment(Instant at, Optional<String> waitsFor, Optional<String> schedule) {

    private static final Duration AHEAD = Duration.ofDays(8);

    /** How long a run is taken to last where none of its kind ever ended. */
    private static final Duration UNHEARD_OF = Duration.ofHours(1);

    private record Busy(Instant from, Instant to, String database, Optional<String> schedule) {}

    /** The first such moment from {@code now} on; empty where there is none within a week. */
    public static Optional<QuietMoment> from(
            Instant now, Map<Database, History> followers, Fleet fleet, List<Closure> closures) {
        List<Busy> busy = new ArrayList<>();
        followers.forEach((database, history) -> {
            windows(database, fleet, closures, now, busy);
            Attempts.known(history, now, Slots.kinds(fleet, database)).stream()
                    .filter(a -> a.state() == Attempt.Progress.RUNNING)
                    .forEach(a -> busy.add(new Busy(
                            a.started(), expectedEnd(a, database, history, now), database.name(), Optional.empty())));
        });
        busy.sort(Comparator.comparing(Busy::from));
        QuietMoment quiet = new QuietMoment(now, Optional.empty(), Optional.empty());
        for (Busy b : busy) {
            if (b.from().isAfter(quiet.at())) {
                break;
            }
            if (b.to().isAfter(quiet.at())) {
                quiet = new QuietMoment(b.to(), Optional.of(b.database()), b.schedule());
            }
        }
        return Optional.of(quiet).filter(q -> Duration.between(now, q.at()).compareTo(AHEAD.minusDays(1)) < 0);
    }

    /** When a run that is under way will have ended, if it takes no longer than its kind lately has. */
    private static Instant expectedEnd(Attempt run, Database database, History history, Instant now) {
        Duration longest = Habits.of(database, history, now)
                .usual(run.kind())
                .map(Usual::longest)
                .orElse(UNHEARD_OF);
        Instant end = run.started().plus(longest);
        return end.isAfter(now)
                ? end
                : now.plus(Duration.between(run.started(), now).dividedBy(10)).plusSeconds(1);
    }

    private static void windows(Database database, Fleet fleet, List<Closure> closures, Instant now, List<Busy> busy) {
        Span around = new Span(now.minus(Duration.ofDays(2)), now.plus(AHEAD));
        for (Slot slot : Slots.of(database, fleet, now, around, database.clock().stopped(), closures, List.of())) {
            if (slot.verdict() != SlotVerdict.SUPERSEDED && slot.verdict() != SlotVerdict.EXCUSED) {
                Instant from = slot.open().minus(grace(fleet, database, slot));
                busy.add(new Busy(from, slot.close(), database.name(), Optional.of(slot.schedule())));
            }
        }
    }

    private static Duration grace(Fleet fleet, Database database, Slot slot) {
        return fleet.versionAt(database, slot.open()).map(PolicyVersion::schedules).orElse(List.of()).stream()
                .filter(s -> s.id().equals(slot.schedule()))
                .map(Schedule::grace)
                .findFirst()
                .orElse(Duration.ZERO);
    }
}
