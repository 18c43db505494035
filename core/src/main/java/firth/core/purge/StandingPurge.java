package firth.core.purge;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Urgency;
import firth.core.history.History;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A rule by which what is obsolete of a policy's databases goes by itself, a little each night (docs/purge.md, "Standing purge").
 *
 * @param obsoleteFor for how long no rule must have needed a copy; zero: it may go the night it becomes obsolete
 * @param copies so many a night at most; from 1
 * @param bytes so many a night at most, as far as sizes are known; more than zero
 * @param from when a night begins on the clock of the zone; where that time is skipped, when it is
 * @param to when it ends, on the next day where that is no later than {@code from}
 * @param pausedBy a finding about a database of the policy, or about none, that needs somebody at least this soon lets nothing go
 */
public record StandingPurge(
        String policy,
        Duration obsoleteFor,
        int copies,
        double bytes,
        LocalTime from,
        LocalTime to,
        ZoneId zone,
        Urgency pausedBy) {

    /** A night by the day it begins on, from {@code opens} until before {@code closes}. */
    public record Night(LocalDate date, Instant opens, Instant closes) {

        public boolean contains(Instant moment) {
            return !moment.isBefore(opens) && moment.isBefore(closes);
        }
    }

    /**
     * A copy that may go.
     *
     * @param root the backup its chain begins with; of what is in no chain itself
     * @param rootTaken when that was begun, in milliseconds of the epoch
     * @param depth how many backups of its chain it rests on
     */
    public record Going(
            String database, Chosen copy, double bytes, Instant landed, String root, long rootTaken, int depth) {}

    private Night night(LocalDate date) {
        LocalDate last = to.isAfter(from) ? date : date.plusDays(1);
        return new Night(
                date,
                ZonedDateTime.of(date, from, zone).toInstant(),
                ZonedDateTime.of(last, to, zone).toInstant());
    }

    /** The night a moment lies in. */
    public Optional<Night> nightAt(Instant moment) {
        LocalDate day = moment.atZone(zone).toLocalDate();
        return List.of(day, day.minusDays(1)).stream()
                .map(this::night)
                .filter(n -> n.contains(moment))
                .findFirst();
    }

    /** The last nights that had begun by a moment, so many, the earliest first. */
    public List<Night> begunBy(Instant moment, int many) {
        LocalDate day = moment.atZone(zone).toLocalDate();
        List<Night> out = new ArrayList<>();
        for (int back = many; back >= 0; back--) {
            Night night = night(day.minusDays(back));
            if (!night.opens.isAfter(moment)) {
                out.add(night);
            }
        }
        return out.subList(Math.max(0, out.size() - many), out.size());
    }

    /** The copies that no rule needed when an answer was given: they could have been part of a restore, and none was to be kept for it. */
    public static Set<Chosen> obsolete(Evaluation then) {
        Retention retention = then.retention();
        Set<Chosen> out = new HashSet<>();
        for (int k = 0; k < retention.size(); k++) {
            if (retention.verdict(k) == Verdict.OBSOLETE) {
                out.add(copy(then, k));
            }
        }
        return out;
    }

    private static Chosen copy(Evaluation e, int k) {
        return new Chosen(e.history().id(e.retention().backup(k)), e.retention().store(k));
    }

    /** A row of an answer's retention as something that may go. */
    public static Going going(Evaluation e, int k, double bytes) {
        History history = e.history();
        int own = e.retention().backup(k);
        int root = own;
        int depth = 0;
        // Backups that name each other as parents come to no end.
        while (history.kind(root).isData() && history.parent(root) >= 0 && depth < history.size()) {
            root = history.parent(root);
            depth++;
        }
        return new Going(
                e.database().id(),
                copy(e, k),
                bytes,
                Instant.ofEpochMilli(history.landedMs(e.retention().copy(k))),
                history.id(root),
                history.startedMs(root),
                depth);
    }

    /**
     * What goes in one night: the oldest chains first, within one what rests on others before those. What would be more than a night may
     * take stays, and with it what it rests on; smaller ones of other chains may still go.
     */
    public List<Going> tonight(Collection<Going> all) {
        List<Going> order = new ArrayList<>(all);
        order.sort(Comparator.comparingLong(Going::rootTaken)
                .thenComparing(Going::database)
                .thenComparing(Going::root)
                .thenComparing(Comparator.comparingInt(Going::depth).reversed())
                .thenComparing(Going::landed)
                .thenComparing(g -> g.copy().backup())
                .thenComparing(g -> g.copy().store()));
        List<Going> out = new ArrayList<>();
        Set<String> staying = new HashSet<>();
        double taken = 0;
        for (Going g : order) {
            if (out.size() < copies && taken + g.bytes <= bytes && !staying.contains(g.root)) {
                out.add(g);
                taken += g.bytes;
            } else {
                staying.add(g.root);
            }
        }
        return out;
    }
}
