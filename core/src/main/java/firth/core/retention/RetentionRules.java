package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lineages;
import firth.core.cover.Lines;
import firth.core.cover.PositionLine;
import firth.core.history.History;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.time.RunningTime;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * Works out which available copies a policy version and the standing safeguards need (docs/semantics.md, "Retention").
 * One pass per rule over the backups in the rule's role; what is needed then draws in its parents and logs.
 */
public final class RetentionRules {

    private final Database database;
    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final Availability availability;
    private final HazardCover cover;
    private final RunningTime clock;
    private final long now;
    private final Marks marks;
    private final Comparator<Integer> byAge;
    private final BitSet restorable = new BitSet();

    private RetentionRules(
            Database database, History history, Availability availability, HazardCover cover, RunningTime clock) {
        this.database = database;
        this.history = history;
        this.lines = cover.lines();
        this.lineages = lines.lineages();
        this.availability = availability;
        this.cover = cover;
        this.clock = clock;
        this.now = availability.nowMs();
        this.marks = new Marks(history, availability);
        for (int i : history.others()) {
            restorable.set(i, history.kind(i).isData() && marks.available(i) && cover.restorable(i));
        }
        this.byAge = Comparator.<Integer>comparingLong(history::consistentAtMs).thenComparing(history::compareIds);
    }

    /** @param version the version in force now; none, or one that is switched off, asks for nothing */
    public static Retention judge(
            Database database,
            History history,
            Availability availability,
            HazardCover mishap,
            RunningTime clock,
            Optional<PolicyVersion> version,
            List<Hold> holds) {
        RetentionRules rules = new RetentionRules(database, history, availability, mishap, clock);
        Optional<PolicyVersion> inForce = version.filter(PolicyVersion::enabled);
        rules.retain(inForce.map(PolicyVersion::retain).orElse(List.of()));
        rules.safeguard(inForce.map(PolicyVersion::copies).orElse(CopiesRule.NONE), holds);
        rules.drawIn();
        return rules.marks.judged(rules::whatItIs);
    }

    private void retain(List<RetainRule> rules) {
        for (Role role : Role.values()) {
            List<RetainRule> own = rules.stream().filter(r -> r.role() == role).toList();
            List<Integer> candidates = own.isEmpty() ? List.of() : marks.inRole(role.ordinal(), restorable::get);
            if (!own.isEmpty()) {
                candidates.sort(byAge);
            }
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
        if (!data || !config) {
            marks.markWhere(role, Reason.NO_RULE, i -> !(history.kind(i) == Kind.CONFIG ? config : data));
        }
    }

    private void reach(int role, List<Integer> candidates, Duration reach) {
        long w = clock.before(now, reach.toMillis());
        Set<Integer> anchors = anchors(candidates, w);
        anchors.forEach(a -> {
            marks.mark(a, role, Reason.REACH_ANCHOR);
            marks.replaces(role, a);
        });
        candidates.stream()
                .filter(i -> history.consistentAtMs(i) > w)
                .forEach(i -> marks.mark(i, role, Reason.INSIDE_REACH));
        logsFrom(role, anchors, Reason.LOG_FOR_REACH);
        marks.markWhere(role, Reason.INSIDE_REACH, i -> history.kind(i) == Kind.CONFIG && history.startedMs(i) > w);
    }

    /** The backups from which reach is restored: for each lineage in force at {@code w} or opened since, its own. */
    private Set<Integer> anchors(List<Integer> candidates, long w) {
        Set<Integer> anchors = new LinkedHashSet<>();
        for (int l = 0; l < lineages.count(); l++) {
            if (lineages.isKnown(l) && (lineages.untilMs(l) > w || lineages.openedAtMs(l) > w)) {
                int lineage = l;
                long by = Math.max(w, lineages.openedAtMs(l));
                List<Integer> leading = candidates.stream()
                        .filter(i -> cover.leadsInto(i, lineage))
                        .toList();
                Optional<Integer> anchor = anchor(leading, by);
                anchor.ifPresent(anchors::add);
                if (anchor.filter(a -> !history.positionedEverywhere(a)).isPresent()) {
                    anchor(
                                    leading.stream()
                                            .filter(history::positionedEverywhere)
                                            .toList(),
                                    by)
                            .ifPresent(anchors::add);
                }
            }
        }
        if (anchors.isEmpty()) {
            candidates.stream().findFirst().ifPresent(anchors::add);
        }
        return anchors;
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

    /** Marks the logs in a role from the starts of backups on, and those of lineages that opened after them. */
    private void logsFrom(int role, Collection<Integer> backups, Reason reason) {
        long[][] from = new long[lineages.count()][lines.streams()];
        for (long[] lineage : from) {
            Arrays.fill(lineage, Long.MAX_VALUE);
        }
        for (int i : backups) {
            for (int s = 0; s < lines.streams(); s++) {
                if (history.positioned(i, s)) {
                    int own = history.lineage(i);
                    from[own][s] = Math.min(from[own][s], history.start(i, s));
                    for (int l = 0; l < from.length; l++) {
                        if (l != own && lineages.openedAtMs(l) > history.consistentAtMs(i)) {
                            from[l][s] = -1;
                        }
                    }
                }
            }
        }
        marks.markWhere(role, reason, i -> {
            if (history.kind(i) != Kind.LOG) {
                return false;
            }
            long start = from[history.lineage(i)][history.stream(i)];
            return history.logTo(i) > start || history.logTo(i) == start && history.logFrom(i) == start;
        });
        for (int l = 0; l < from.length; l++) {
            for (int s = 0; s < lines.streams(); s++) {
                long start = from[l][s];
                lines.line(l, s).eachLent((i, end) -> {
                    if (end > start) {
                        marks.mark(i, role, reason);
                    }
                });
            }
        }
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
                    .filter(this::positionedAnywhere)
                    .findFirst()
                    .ifPresent(i -> logsFrom(role, List.of(i), Reason.LOG_FOR_FULLS));
        }
    }

    private boolean positionedAnywhere(int i) {
        return IntStream.range(0, lines.streams()).anyMatch(s -> history.positioned(i, s));
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
                .thenComparing(history::compareIds)
                .reversed());
        configs.stream()
                .limit(rule.configs().orElse(RetainRule.DEFAULT_CONFIGS))
                .forEach(i -> marks.mark(i, role, Reason.NEWEST_CONFIGS));
    }

    private void safeguard(CopiesRule copies, List<Hold> holds) {
        marks.markWhere(Reason.LOCKED, (i, c) -> history.lockedUntilMs(c) > now);
        holds.stream().filter(h -> h.inForceAt(Instant.ofEpochMilli(now))).forEach(this::hold);
        newest(restorable::get).ifPresent(this::floor);
        for (int i : history.others()) {
            if (history.kind(i).isData() && availability.exists(i)) {
                if (awaitsLog(i)) {
                    marks.markAll(i, Reason.LOG_AWAITED);
                }
                if (availability.waits(i)) {
                    marks.markAll(i, Reason.WAITING);
                }
            }
        }
        if (!copies.equals(CopiesRule.NONE)) {
            CopiesHeld held = new CopiesHeld(history, availability);
            marks.markWhere(Reason.COPY_PENDING, (i, c) -> held.fewerThan(copies, i));
        }
    }

    /** The newest way back, with every log that extends it in the lineages it leads into. */
    private void floor(int newest) {
        marks.markAll(newest, Reason.FLOOR);
        for (int l = 0; l < lineages.count(); l++) {
            if (cover.leadsInto(newest, l)) {
                for (int s = 0; s < lines.streams(); s++) {
                    long from = entry(newest, l, s);
                    if (from >= 0) {
                        long end = cover.extendsTo(l, s, from);
                        logsOnTheWay(l, s, from, end, Reason.FLOOR);
                        lines.line(l, s).emptyLogsWithin(end, end, i -> marks.markAll(i, Reason.FLOOR));
                    }
                }
            }
        }
    }

    /** The position from which on a backup needs the logs of a lineage it leads into; negative where it has none. */
    private long entry(int i, int lineage, int stream) {
        return history.lineage(i) == lineage ? history.to(i, stream) : lineages.fork(lineage, stream);
    }

    private void hold(Hold hold) {
        hold.backup().map(history::row).ifPresent(row -> row.ifPresent(i -> marks.markAll(i, Reason.HELD)));
        hold.moment().map(Instant::toEpochMilli).ifPresent(moment -> {
            Optional<Integer> newest = newest(i -> restorable.get(i) && lineageRestoring(i, moment) >= 0);
            if (newest.isPresent()) {
                marks.markAll(newest.get(), Reason.HELD);
                holdLogs(newest.get(), lineageRestoring(newest.get(), moment), moment);
            } else {
                holdWhatMayCome(moment);
            }
        });
    }

    /** Where nothing restores a moment (yet): the newest data backup by then of the lineage then in force, and its logs. */
    private void holdWhatMayCome(long moment) {
        newest(i -> history.kind(i).isData()
                        && marks.available(i)
                        && lineages.inForceAt(history.lineage(i), moment)
                        && history.consistentAtMs(i) <= moment)
                .ifPresent(i -> {
                    marks.markAll(i, Reason.HELD);
                    for (int s = 0; s < lines.streams(); s++) {
                        if (history.positioned(i, s)) {
                            long start = history.start(i, s);
                            PositionLine line = lines.line(history.lineage(i), s);
                            line.logsWithin(start, Long.MAX_VALUE, l -> marks.markAll(l, Reason.HELD));
                            line.emptyLogsWithin(start, Long.MAX_VALUE, l -> marks.markAll(l, Reason.HELD));
                        }
                    }
                });
    }

    /** The lineage in force at a moment in which a backup restores it, -1 where it does not. */
    private int lineageRestoring(int i, long moment) {
        for (int l = 0; l < lineages.count(); l++) {
            if (lineages.inForceAt(l, moment)) {
                String id = lineages.id(l);
                Instant at = Instant.ofEpochMilli(moment);
                boolean restores = cover.restoredBy(i).stream()
                        .anyMatch(p -> p.lineage().equals(id) && !p.from().isAfter(at) && !p.to().isBefore(at));
                return restores ? l : -1;
            }
        }
        return -1;
    }

    /** The logs that take a backup to a moment of a lineage: through its ancestors to where each was left, then to the moment. */
    private void holdLogs(int i, int lineage, long moment) {
        for (int l = lineage; l != history.lineage(i); l = lineages.parent(l)) {
            int parent = lineages.parent(l);
            for (int s = 0; s < lines.streams(); s++) {
                logsOnTheWay(parent, s, entry(i, parent, s), lineages.fork(l, s), Reason.HELD);
            }
        }
        long begins = lineage == history.lineage(i) ? history.consistentAtMs(i) : lineages.openedAtMs(lineage);
        for (int s = 0; s < lines.streams() && moment > begins; s++) {
            holdLogs(lineage, s, entry(i, lineage, s), moment);
        }
    }

    /**
     * The logs that extend a position, up to the last that begins before a moment, and the next one where these end before it.
     */
    private void holdLogs(int lineage, int stream, long from, long moment) {
        if (from < 0) {
            return;
        }
        PositionLine line = lines.line(lineage, stream);
        long end = cover.extendsTo(lineage, stream, from);
        List<Integer> extending = new ArrayList<>();
        IntConsumer take = l -> {
            if (marks.available(l)) {
                extending.add(l);
            }
        };
        if (from < end) {
            line.logsWithin(from, end, take);
        }
        line.emptyLogsWithin(from, end, take);
        extending.sort(Comparator.<Integer>comparingLong(history::logFrom).thenComparing(line::to));
        int count = 0;
        for (int n = 0; n < extending.size(); n++) {
            int l = extending.get(n);
            count = !line.isLent(l) && history.fromTimeMs(l) < moment ? n + 1 : count;
        }
        boolean reached =
                extending.subList(0, count).stream().anyMatch(l -> !line.isLent(l) && history.toTimeMs(l) >= moment);
        extending
                .subList(0, Math.min(extending.size(), reached ? count : count + 1))
                .forEach(l -> marks.markAll(l, Reason.HELD));
    }

    /** Every log from a position to before another, with those on the way in which nothing happened. */
    private void logsOnTheWay(int lineage, int stream, long from, long end, Reason reason) {
        if (from >= 0 && from < end) {
            lines.line(lineage, stream).logsWithin(from, end, l -> marks.markAll(l, reason));
            lines.line(lineage, stream).emptyLogsWithin(from, end - 1, l -> marks.markAll(l, reason));
        }
    }

    private Optional<Integer> newest(IntPredicate test) {
        Integer newest = null;
        for (int i : history.others()) {
            if (test.test(i) && (newest == null || byAge.compare(i, newest) > 0)) {
                newest = i;
            }
        }
        return Optional.ofNullable(newest);
    }

    private boolean awaitsLog(int i) {
        return cover.usable(i) && cover.torn(i) && (availability.isFresh(i) || noLogBeyond(i));
    }

    /** Whether the logs that would mend a torn backup may still come. */
    private boolean noLogBeyond(int i) {
        return lineages.inForceAt(history.lineage(i), now)
                && IntStream.range(0, lines.streams())
                        .filter(s -> cover.tornIn(i, s))
                        .allMatch(s -> furthestEver(history.lineage(i), s) <= history.to(i, s));
    }

    /** The furthest end of the logs of a stream that have been there as a whole at some moment up to now; -1 for none. */
    private long furthestEver(int lineage, int stream) {
        return lines.line(lineage, stream).furthest(log -> availability.everAvailable(log, Hazard.MISHAP));
    }

    /** Needs of what is needed: parents, and the logs that make a backup consistent, until nothing changes. */
    private void drawIn() {
        marks.drawIn((i, role) -> {
            if (!history.kind(i).isData()) {
                return;
            }
            int parent = history.parent(i);
            if (availability.needsParent(i) && parent >= 0) {
                marks.draw(parent, role, Drawn.As.PARENT, i);
            }
            for (int s = 0; s < lines.streams() && !history.selfContained(i); s++) {
                if (history.positioned(i, s)) {
                    lines.line(history.lineage(i), s)
                            .logsWithin(
                                    history.from(i, s), history.to(i, s), l -> marks.draw(l, role, Drawn.As.LOG, i));
                }
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
