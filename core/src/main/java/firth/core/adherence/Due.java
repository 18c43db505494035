package firth.core.adherence;

import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.model.Taking;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A run that policies ask to be started now (docs/runner.md, "What is due").
 *
 * @param id what the run is to be called, the same whenever it is asked for until something is tried
 * @param schedule empty where it follows another backup
 * @param since when it became due
 * @param until when its start window closes; empty where it has none
 */
public record Due(String id, Kind kind, Optional<String> schedule, Instant since, Optional<Instant> until) {

    /** How long a failed run is left alone before it is tried again. */
    public static final Duration PAUSE = Duration.ofMinutes(15);

    /** So often at most that is doubled: what follows is given up after a day. */
    private static final int DOUBLED = 6;

    private static final Duration AROUND = Duration.ofDays(2);

    /**
     * What is due of a database: slots, then logs, then what follows another backup. Of each kind one run at a time: it serves every
     * schedule of the kind that is due, and nothing of the kind is due while a run of it is under way, or so soon after one that failed. A
     * run that is known is never asked for again. Kinds that have an order wait for those before them.
     */
    public static List<Due> of(DatabaseFacts facts, Fleet fleet, Instant now) {
        Database database = facts.database();
        Optional<PolicyVersion> version = fleet.versionAt(database, now).filter(PolicyVersion::enabled);
        if (version.isEmpty() || database.retiredAt(now) || isStopped(database, now)) {
            return List.of();
        }
        List<Attempt> attempts = Attempts.known(facts.history(), now, EnumSet.allOf(Kind.class));
        Map<Kind, Due> out = new LinkedHashMap<>();
        Span around = new Span(now.minus(AROUND), now.plusSeconds(1));
        List<Slot> open =
                Slots.of(database, fleet, now, around, database.clock().stopped(), facts.closures(), attempts).stream()
                        .filter(s -> s.verdict() == SlotVerdict.DUE || s.verdict() == SlotVerdict.RETRYING)
                        .filter(s -> now.isBefore(s.close()))
                        .toList();
        Taking taking = version.get().taking();
        open.stream()
                .filter(s -> !busy(attempts, s.kind(), now))
                .filter(s -> taking.before(s.kind()).stream()
                        .noneMatch(k -> busy(attempts, k, now) || open.stream().anyMatch(o -> o.kind() == k)))
                .sorted(Comparator.comparing(Slot::close)
                        .thenComparing(Slot::open)
                        .thenComparing(Slot::schedule))
                .forEach(s -> slot(database, attempts, s, now).ifPresent(d -> out.putIfAbsent(d.kind(), d)));
        for (Schedule s : version.get().live()) {
            s.every()
                    .flatMap(every -> logs(facts, attempts, s, every, now))
                    .ifPresent(d -> out.putIfAbsent(d.kind(), d));
        }
        for (Following f : Following.of(facts.history(), version.get(), now)) {
            next(database, attempts, f, now).ifPresent(d -> out.putIfAbsent(d.kind(), d));
        }
        return List.copyOf(out.values());
    }

    /**
     * Up to when nothing becomes due by time alone: this moment where something is due now. A moment too early costs a look; one too
     * late would start a run late.
     *
     * @param within later moments are not looked for; that far ahead is given where there is none before
     */
    public static Instant quietUntil(DatabaseFacts facts, Fleet fleet, Instant now, Duration within) {
        if (!of(facts, fleet, now).isEmpty()) {
            return now;
        }
        Ahead ahead = new Ahead(now, now.plus(within));
        Database database = facts.database();
        fleet.changes(database).forEach(ahead::at);
        database.particulars().retired().ifPresent(ahead::at);
        Spans stopped = database.clock().stopped();
        for (int s = 0; s < stopped.count(); s++) {
            ahead.at(Instant.ofEpochMilli(stopped.from(s)));
            ahead.at(Instant.ofEpochMilli(stopped.to(s)));
        }
        facts.closures().forEach(c -> {
            ahead.at(c.span().from());
            ahead.at(c.span().to());
        });
        List<Attempt> attempts = Attempts.known(facts.history(), ahead.next, EnumSet.allOf(Kind.class));
        for (Attempt a : attempts) {
            ahead.at(a.started());
            ahead.at(a.started().plus(believed(a.kind())));
            a.ended().ifPresent(e -> {
                ahead.at(e);
                for (int failures = 1; failures <= DOUBLED + 1; failures++) {
                    ahead.at(e.plus(pause(failures)));
                }
            });
        }
        History history = facts.history();
        for (int i : history.others()) {
            ahead.at(Instant.ofEpochMilli(history.endedMs(i)));
        }
        Span around = new Span(now.minus(AROUND), ahead.next.plusSeconds(1));
        Slots.of(database, fleet, now, around, stopped, facts.closures(), attempts)
                .forEach(s -> {
                    ahead.at(s.open());
                    ahead.at(s.close());
                });
        fleet.versionAt(database, now)
                .ifPresent(v -> v.live()
                        .forEach(s -> s.every().ifPresent(every -> {
                            ahead.at(since(facts, attempts, s, every, now));
                            attempts.forEach(a -> ahead.at(a.started().plus(every)));
                            logsAfter(facts.history(), now).forEach(end -> ahead.at(end.plus(every)));
                        })));
        return ahead.next;
    }

    /** The first of some moments after this one. */
    private static final class Ahead {
        private final Instant now;
        private Instant next;

        Ahead(Instant now, Instant latest) {
            this.now = now;
            this.next = latest;
        }

        void at(Instant moment) {
            next = moment.isAfter(now) && moment.isBefore(next) ? moment : next;
        }
    }

    /** The next try of a slot, unless one is known that is not over, went well, or failed too short a while ago. */
    private static Optional<Due> slot(Database database, List<Attempt> attempts, Slot slot, Instant now) {
        String own = database.id() + ":" + slot.schedule() + ":" + slot.open() + ":";
        Set<String> tried = new HashSet<>();
        slot.runs().forEach(a -> tried.add(a.id()));
        return next(own, tried, slot.kind(), attempts, now)
                .map(id ->
                        new Due(id, slot.kind(), Optional.of(slot.schedule()), slot.open(), Optional.of(slot.close())));
    }

    /** The next try of what is to follow another backup, likewise; each that failed has it left alone for twice as long. */
    private static Optional<Due> next(Database database, List<Attempt> attempts, Following f, Instant now) {
        Kind kind = f.rule().take();
        if (!now.isBefore(f.givenUp()) || busy(attempts, kind, now)) {
            return Optional.empty();
        }
        String own = database.id() + ":" + kind.word() + ":after:" + f.ended() + ":";
        List<Attempt> failed = attempts.stream()
                .filter(a -> a.id().startsWith(own) && a.ended().isPresent())
                .toList();
        if (!failed.isEmpty()
                && failed.stream()
                        .anyMatch(a -> now.isBefore(a.ended().orElseThrow().plus(pause(failed.size()))))) {
            return Optional.empty();
        }
        return next(own, new HashSet<>(), kind, attempts, now)
                .map(id -> new Due(id, kind, Optional.empty(), f.ended(), Optional.of(f.until())));
    }

    /**
     * What the next try is to be called.
     *
     * @param own what the names of its tries begin with
     * @param tried the names of those known to be its own besides
     */
    private static Optional<String> next(
            String own, Set<String> tried, Kind kind, List<Attempt> attempts, Instant now) {
        for (Attempt a : attempts) {
            if (a.id().startsWith(own)) {
                tried.add(a.id());
                if (a.ok() || busy(List.of(a), a.kind(), now)) {
                    return Optional.empty();
                }
            }
            boolean failed = a.kind() == kind && !a.ok();
            if (failed && a.ended().filter(e -> now.isBefore(e.plus(PAUSE))).isPresent()) {
                return Optional.empty();
            }
        }
        int next = tried.size();
        while (tried.contains(own + next)) {
            next++;
        }
        return Optional.of(own + next);
    }

    /** How long after so many failures what follows another backup is left alone. */
    private static Duration pause(int failures) {
        return PAUSE.multipliedBy(1L << Math.min(failures - 1, DOUBLED));
    }

    private static boolean isStopped(Database database, Instant now) {
        long at = now.toEpochMilli();
        return database.clock().between(at, at + 1) == 0;
    }

    /** A run nobody ever told the end of, as when its runner died, does not keep others from starting for ever. */
    private static boolean busy(List<Attempt> attempts, Kind kind, Instant now) {
        return attempts.stream()
                .anyMatch(a -> a.state() == Attempt.Progress.RUNNING
                        && a.kind() == kind
                        && now.isBefore(a.started().plus(believed(kind))));
    }

    /** How long a run that nobody tells the end of is taken to be under way. */
    private static Duration believed(Kind kind) {
        return kind == Kind.LOG ? Duration.ofHours(1) : Duration.ofDays(1);
    }

    /** Logs are due one interval after the end of the last, or after the last try. */
    private static Optional<Due> logs(
            DatabaseFacts facts, List<Attempt> attempts, Schedule schedule, Duration every, Instant now) {
        Instant since = since(facts, attempts, schedule, every, now);
        return now.isBefore(since) || busy(attempts, Kind.LOG, now)
                ? Optional.empty()
                : Optional.of(new Due(
                        id(facts, schedule, since), Kind.LOG, Optional.of(schedule.id()), since, Optional.empty()));
    }

    /** When the next log is due. */
    private static Instant since(
            DatabaseFacts facts, List<Attempt> attempts, Schedule schedule, Duration every, Instant now) {
        Instant last = lastLog(facts, now);
        for (Attempt a : attempts) {
            if (a.kind() == Kind.LOG && a.started().isAfter(last)) {
                last = a.started();
            }
        }
        Instant since = last.plus(every);
        while (isKnown(attempts, id(facts, schedule, since))) {
            since = since.plus(every);
        }
        return since;
    }

    /** The end of the last log that ended by a moment; where there is none, when the database's service began. */
    private static Instant lastLog(DatabaseFacts facts, Instant by) {
        History history = facts.history();
        Instant last = facts.database().inServiceFrom();
        for (int i = 0; i < history.size(); i++) {
            Instant end = Instant.ofEpochMilli(history.toTimeMs(i));
            if (history.kind(i) == Kind.LOG && !end.isAfter(by) && end.isAfter(last)) {
                last = end;
            }
        }
        return last;
    }

    /** The ends of logs that are known to end later. */
    private static List<Instant> logsAfter(History history, Instant now) {
        List<Instant> out = new ArrayList<>();
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && history.toTimeMs(i) > now.toEpochMilli()) {
                out.add(Instant.ofEpochMilli(history.toTimeMs(i)));
            }
        }
        return out;
    }

    private static String id(DatabaseFacts facts, Schedule schedule, Instant since) {
        return facts.database().id() + ":" + schedule.id() + ":" + since;
    }

    private static boolean isKnown(List<Attempt> attempts, String id) {
        return attempts.stream().anyMatch(a -> a.id().equals(id));
    }
}
