package firth.core.adherence;

import firth.core.DatabaseFacts;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.Schedule;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;

/**
 * A run that policies ask to be started now (docs/runner.md, "What is due").
 *
 * @param id what the run is to be called, the same whenever it is asked for until something is tried
 * @param since when it became due
 * @param until when its start window closes; empty where it has none
 */
public record Due(String id, Kind kind, String schedule, Instant since, Optional<Instant> until) {

    /** How long a failed run is left alone before it is tried again. */
    public static final Duration PAUSE = Duration.ofMinutes(15);

    private static final Duration AROUND = Duration.ofDays(2);

    /** What is due of a database, slots before logs. Nothing is while a run of the same kind is under way. */
    public static List<Due> of(DatabaseFacts facts, Fleet fleet, Instant now) {
        Database database = facts.database();
        Optional<PolicyVersion> version = fleet.versionAt(database, now).filter(PolicyVersion::enabled);
        if (version.isEmpty() || database.retiredAt(now) || isStopped(database, now)) {
            return List.of();
        }
        List<Attempt> attempts = Attempts.known(facts.history(), now, EnumSet.allOf(Kind.class));
        List<Due> out = new ArrayList<>();
        Span around = new Span(now.minus(AROUND), now.plusSeconds(1));
        for (Slot slot :
                Slots.of(database, fleet, now, around, database.clock().stopped(), facts.closures(), attempts)) {
            boolean open = slot.verdict() == SlotVerdict.DUE || slot.verdict() == SlotVerdict.RETRYING;
            if (open && now.isBefore(slot.close()) && !busy(attempts, slot.kind(), now) && isTime(slot, now)) {
                String id = database.id() + ":" + slot.schedule() + ":" + slot.open() + ":"
                        + slot.runs().size();
                out.add(new Due(id, slot.kind(), slot.schedule(), slot.open(), Optional.of(slot.close())));
            }
        }
        for (Schedule s : version.get().live()) {
            s.every().flatMap(every -> logs(facts, attempts, s, every, now)).ifPresent(out::add);
        }
        return out;
    }

    private static boolean isStopped(Database database, Instant now) {
        long at = now.toEpochMilli();
        return database.clock().between(at, at + 1) == 0;
    }

    /** A run nobody ever told the end of, as when its runner died, does not keep others from starting for ever. */
    private static boolean busy(List<Attempt> attempts, Kind kind, Instant now) {
        Duration believed = kind == Kind.LOG ? Duration.ofHours(1) : Duration.ofDays(1);
        return attempts.stream()
                .anyMatch(a -> a.state() == Attempt.State.RUNNING
                        && a.kind() == kind
                        && now.isBefore(a.started().plus(believed)));
    }

    private static boolean isTime(Slot slot, Instant now) {
        return slot.runs().stream().flatMap(a -> a.ended().stream()).noneMatch(e -> now.isBefore(e.plus(PAUSE)));
    }

    /** Logs are due one interval after the end of the last, or after the last try. */
    private static Optional<Due> logs(
            DatabaseFacts facts, List<Attempt> attempts, Schedule schedule, Duration every, Instant now) {
        History history = facts.history();
        Instant last = facts.database().inServiceFrom();
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && history.toTimeMs(i) <= now.toEpochMilli()) {
                Instant end = Instant.ofEpochMilli(history.toTimeMs(i));
                last = end.isAfter(last) ? end : last;
            }
        }
        for (Attempt a : attempts) {
            if (a.kind() == Kind.LOG && a.started().isAfter(last)) {
                last = a.started();
            }
        }
        Instant since = last.plus(every);
        return now.isBefore(since) || busy(attempts, Kind.LOG, now)
                ? Optional.empty()
                : Optional.of(new Due(
                        facts.database().id() + ":" + schedule.id() + ":" + since,
                        Kind.LOG,
                        schedule.id(),
                        since,
                        Optional.empty()));
    }
}
