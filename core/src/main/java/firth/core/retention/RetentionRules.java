package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.PositionLine;
import firth.core.fleet.BackupStore;
import firth.core.fleet.CopiesRule;
import firth.core.fleet.Database;
import firth.core.fleet.Hold;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.RetainRule;
import firth.core.fleet.Role;
import firth.core.fleet.RungUnit;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.time.RunningTime;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Works out which available copies a policy version and the standing safeguards need (docs/semantics.md, "Retention").
 * One pass per rule over the backups in the rule's role; what is needed then draws in its parents and logs.
 */
public final class RetentionRules {

    private final Database database;
    private final History history;
    private final PositionLine line;
    private final Availability availability;
    private final HazardCover cover;
    private final RunningTime clock;
    private final long now;
    private final Marks marks;
    private final Comparator<Integer> byAge;

    private RetentionRules(
            Database database,
            History history,
            PositionLine line,
            Availability availability,
            HazardCover cover,
            RunningTime clock) {
        this.database = database;
        this.history = history;
        this.line = line;
        this.availability = availability;
        this.cover = cover;
        this.clock = clock;
        this.now = availability.nowMs();
        this.marks = new Marks(history, availability);
        this.byAge = Comparator.<Integer>comparingLong(history::consistentAtMs).thenComparing(history::id);
    }

    /** @param version the version in force now; none, or one that is switched off, asks for nothing */
    public static Retention judge(
            Database database,
            History history,
            PositionLine line,
            Availability availability,
            HazardCover mishap,
            RunningTime clock,
            Optional<PolicyVersion> version,
            List<Hold> holds) {
        RetentionRules rules = new RetentionRules(database, history, line, availability, mishap, clock);
        Optional<PolicyVersion> inForce = version.filter(PolicyVersion::enabled);
        rules.retain(inForce.map(PolicyVersion::retain).orElse(List.of()));
        rules.safeguard(inForce.map(PolicyVersion::copies).orElse(CopiesRule.NONE), holds);
        rules.drawIn();
        return rules.marks.judged(rules::whatItIs);
    }

    private void retain(List<RetainRule> rules) {
        for (Role role : Role.values()) {
            List<RetainRule> own = rules.stream().filter(r -> r.role() == role).toList();
            List<Integer> candidates =
                    marks.inRole(role.ordinal(), i -> history.kind(i).isData() && cover.restorable(i));
            candidates.sort(byAge);
            for (RetainRule rule : own) {
                rule.reach().ifPresent(reach -> reach(role.ordinal(), candidates, reach));
                rule.fulls().ifPresent(count -> fulls(role.ordinal(), candidates, count, rule.logs()));
                rule.rungs().forEach((unit, count) -> rung(role.ordinal(), candidates, unit, count));
                configs(role.ordinal(), rule);
            }
            noRule(role.ordinal(), own);
        }
        noRule(Marks.NO_ROLE, List.of());
    }

    private void noRule(int role, List<RetainRule> rules) {
        boolean data = rules.stream().anyMatch(RetainRule::retainsData);
        boolean config = data || rules.stream().anyMatch(r -> r.configs().isPresent());
        marks.inRole(role, i -> !(history.kind(i) == Kind.CONFIG ? config : data))
                .forEach(i -> marks.mark(i, role, Reason.NO_RULE));
    }

    private void reach(int role, List<Integer> candidates, Duration reach) {
        long w = clock.before(now, reach.toMillis());
        long inService = database.inServiceFrom().toEpochMilli();
        Set<Integer> anchors = new HashSet<>();
        anchor(candidates, Math.max(w, inService)).ifPresent(a -> {
            anchors.add(a);
            if (!history.positioned(a)) {
                anchor(candidates.stream().filter(history::positioned).toList(), Math.max(w, inService))
                        .ifPresent(anchors::add);
            }
        });
        anchors.forEach(a -> {
            marks.mark(a, role, Reason.REACH_ANCHOR);
            marks.replaces(role, a);
        });
        candidates.stream()
                .filter(i -> history.consistentAtMs(i) > w)
                .forEach(i -> marks.mark(i, role, Reason.INSIDE_REACH));
        anchors.stream()
                .filter(history::positioned)
                .mapToLong(history::start)
                .min()
                .ifPresent(start -> logsFrom(role, start, Reason.LOG_FOR_REACH));
        marks.inRole(role, i -> history.kind(i) == Kind.CONFIG && history.startedMs(i) > w)
                .forEach(i -> marks.mark(i, role, Reason.INSIDE_REACH));
    }

    /** The newest of the candidates, which ascend, that is consistent by {@code w}; the oldest where none is. */
    private Optional<Integer> anchor(List<Integer> candidates, long w) {
        Optional<Integer> found = Optional.empty();
        for (int i : candidates) {
            if (history.consistentAtMs(i) <= w) {
                found = Optional.of(i);
            }
        }
        return found.or(() -> candidates.stream().findFirst());
    }

    private void logsFrom(int role, long start, Reason reason) {
        marks.inRole(
                        role,
                        i -> history.kind(i) == Kind.LOG
                                && (history.to(i) > start || history.to(i) == start && history.from(i) == start))
                .forEach(i -> marks.mark(i, role, reason));
    }

    private void fulls(int role, List<Integer> candidates, int count, boolean logs) {
        List<Integer> fulls =
                candidates.stream().filter(i -> history.kind(i) == Kind.FULL).toList();
        List<Integer> newest = fulls.subList(Math.max(0, fulls.size() - count), fulls.size());
        Set<Integer> kept = new HashSet<>(newest);
        newest.forEach(i -> marks.replaces(role, i));
        candidates.stream()
                .filter(i -> kept.contains(fullOf(i)))
                .forEach(i -> marks.mark(i, role, Reason.NEWEST_FULLS));
        if (logs) {
            newest.stream()
                    .filter(history::positioned)
                    .findFirst()
                    .ifPresent(i -> logsFrom(role, history.start(i), Reason.LOG_FOR_FULLS));
        }
    }

    /** The full at the end of a usable backup's chain. */
    private int fullOf(int i) {
        int at = i;
        while (availability.needsParent(at)) {
            at = history.parent(at);
        }
        return at;
    }

    private void rung(int role, List<Integer> candidates, RungUnit unit, int count) {
        ZonedDateTime local = Instant.ofEpochMilli(now).atZone(database.zone());
        long after = unit.before(local, count).toInstant().toEpochMilli();
        Set<Long> taken = new HashSet<>();
        for (int i : candidates) {
            if (history.kind(i) == Kind.FULL) {
                long at = history.consistentAtMs(i);
                if (taken.add(unit.of(Instant.ofEpochMilli(at).atZone(database.zone()))) && at > after) {
                    marks.mark(i, role, Reason.rung(unit));
                }
            }
        }
    }

    private void configs(int role, RetainRule rule) {
        List<Integer> configs = marks.inRole(role, i -> history.kind(i) == Kind.CONFIG);
        configs.sort(Comparator.<Integer>comparingLong(history::startedMs)
                .thenComparing(history::id)
                .reversed());
        configs.stream()
                .limit(rule.configs().orElse(RetainRule.DEFAULT_CONFIGS))
                .forEach(i -> marks.mark(i, role, Reason.NEWEST_CONFIGS));
    }

    private void safeguard(CopiesRule copies, List<Hold> holds) {
        marks.forEachCopy((i, c) -> {
            if (history.lockedUntilMs(c) > now) {
                marks.markCopy(c, Reason.LOCKED);
            }
        });
        holds.stream().filter(h -> h.inForceAt(Instant.ofEpochMilli(now))).forEach(this::hold);
        newestRestorable(i -> true).ifPresent(newest -> {
            marks.markAll(newest, Reason.FLOOR);
            if (history.positioned(newest)) {
                long end = cover.extendsTo(newest);
                logsOnTheWay(newest, end, Reason.FLOOR);
                line.emptyLogsWithin(end, end, l -> marks.markAll(l, Reason.FLOOR));
            }
        });
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData() && availability.begun(i)) {
                if (awaitsLog(i)) {
                    marks.markAll(i, Reason.LOG_AWAITED);
                }
                if (availability.waits(i)) {
                    marks.markAll(i, Reason.WAITING);
                }
            }
        }
        if (!copies.equals(CopiesRule.NONE)) {
            for (int i = 0; i < history.size(); i++) {
                if (pending(i, copies)) {
                    marks.markAll(i, Reason.COPY_PENDING);
                }
            }
        }
    }

    private void hold(Hold hold) {
        hold.backup().ifPresent(id -> {
            for (int i = 0; i < history.size(); i++) {
                if (history.id(i).equals(id)) {
                    marks.markAll(i, Reason.HELD);
                }
            }
        });
        hold.moment().ifPresent(moment -> {
            long at = moment.toEpochMilli();
            if (at < database.inServiceFrom().toEpochMilli() || at > now) {
                return;
            }
            newestRestorable(i -> history.consistentAtMs(i) <= at && at <= cover.restoresUpToMs(i))
                    .ifPresent(i -> {
                        marks.markAll(i, Reason.HELD);
                        if (at > history.consistentAtMs(i)) {
                            holdLogs(i, at);
                        }
                    });
        });
    }

    /** Logs from a backup on, up to the first position at which the moment is reached. */
    private void holdLogs(int i, long moment) {
        long end = cover.extendsTo(i);
        long[] reached = {end};
        line.logsWithin(history.to(i), end, l -> {
            if (history.toTimeMs(l) >= moment && marks.available(l)) {
                reached[0] = Math.min(reached[0], history.to(l));
            }
        });
        line.emptyLogsWithin(history.to(i), end, l -> {
            if (history.toTimeMs(l) >= moment && marks.available(l)) {
                reached[0] = Math.min(reached[0], history.to(l));
            }
        });
        boolean[] byLog = {false};
        line.logsWithin(
                history.to(i),
                reached[0],
                l -> byLog[0] |= history.to(l) == reached[0] && history.toTimeMs(l) >= moment && marks.available(l));
        logsOnTheWay(i, reached[0], Reason.HELD);
        if (!byLog[0]) {
            line.emptyLogsWithin(reached[0], reached[0], l -> marks.markAll(l, Reason.HELD));
        }
    }

    /** Every log from a backup's end to before a position, with those on the way in which nothing happened. */
    private void logsOnTheWay(int backup, long end, Reason reason) {
        long from = history.to(backup);
        if (from < end) {
            line.logsWithin(from, end, l -> marks.markAll(l, reason));
            line.emptyLogsWithin(from, end - 1, l -> marks.markAll(l, reason));
        }
    }

    private Optional<Integer> newestRestorable(java.util.function.IntPredicate also) {
        Integer newest = null;
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData()
                    && cover.restorable(i)
                    && also.test(i)
                    && (newest == null || byAge.compare(i, newest) > 0)) {
                newest = i;
            }
        }
        return Optional.ofNullable(newest);
    }

    private boolean awaitsLog(int i) {
        return cover.usable(i)
                && cover.torn(i)
                && database.inServiceFrom().toEpochMilli() <= now
                && latestLogEver() <= history.to(i);
    }

    private long latestLogEver = Long.MIN_VALUE;

    /** The furthest end of the logs that have been available at some moment up to now. */
    private long latestLogEver() {
        if (latestLogEver == Long.MIN_VALUE) {
            latestLogEver = -1;
            for (int i = 0; i < history.size(); i++) {
                if (history.kind(i) == Kind.LOG
                        && !availability
                                .ofBackup(i, firth.core.cover.Hazard.MISHAP)
                                .isEmpty()) {
                    latestLogEver = Math.max(latestLogEver, history.to(i));
                }
            }
        }
        return latestLogEver;
    }

    private boolean pending(int i, CopiesRule rule) {
        Set<String> stores = new HashSet<>();
        Set<String> media = new HashSet<>();
        Set<String> offsite = new HashSet<>();
        Set<String> locked = new HashSet<>();
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            Optional<BackupStore> store = availability.store(c);
            if (store.isPresent() && availability.landed(c) && !availability.spoiledNow(c)) {
                stores.add(store.get().id());
                store.get().medium().ifPresent(media::add);
                if (availability.offsite(c)) {
                    offsite.add(store.get().id());
                }
                if (history.lockedUntilMs(c) != History.ALWAYS) {
                    locked.add(store.get().id());
                }
            }
        }
        return stores.size() < rule.stores()
                || media.size() < rule.media()
                || offsite.size() < rule.offsite()
                || locked.size() < rule.locked();
    }

    /** Needs of what is needed: parents, and the logs that make a backup consistent, until nothing changes. */
    private void drawIn() {
        marks.drawIn((i, role) -> {
            if (!history.kind(i).isData()) {
                return;
            }
            int parent = history.parent(i);
            if (availability.needsParent(i) && parent >= 0) {
                marks.draw(parent, role, "parent-of:" + history.id(i));
            }
            if (!history.selfContained(i) && history.positioned(i)) {
                line.logsWithin(
                        history.from(i),
                        history.to(i),
                        l -> marks.draw(l, role, "log-for-consistency:" + history.id(i)));
            }
        });
    }

    private Optional<Reason> whatItIs(int i) {
        if (!history.kind(i).isData()) {
            return Optional.empty();
        }
        if (!cover.usable(i)) {
            return Optional.of(Reason.CHAIN_BROKEN);
        }
        return cover.torn(i) ? Optional.of(Reason.TORN) : Optional.empty();
    }
}
