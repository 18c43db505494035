package firth.core.restore;

import firth.core.cover.Availability;
import firth.core.cover.Gap;
import firth.core.cover.Gaps;
import firth.core.cover.HazardCover;
import firth.core.cover.Lineages;
import firth.core.cover.Lines;
import firth.core.cover.Losses;
import firth.core.cover.Piece;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;

/** Plans restores of one database from what a hazard and chosen losses leave (docs/semantics.md, "Restore plan"). */
public final class Planning {

    private final Database database;
    private final History history;
    private final Availability availability;
    private final Hazard hazard;
    private final Lines lines;
    private final Lineages lineages;
    private final HazardCover cover;
    private final List<Piece> restorable;
    private final Reading reading;
    private final LogPath logPath;

    /** @param asOf what is known and left is judged at this moment */
    public Planning(DatabaseFacts facts, Fleet fleet, Instant asOf, Hazard hazard, Losses losses) {
        this.database = facts.database();
        this.history = without(facts, losses);
        this.hazard = hazard;
        this.availability = new Availability(database, fleet, history, asOf.toEpochMilli(), losses);
        this.lines = new Lines(history, availability);
        this.lineages = lines.lineages();
        this.cover = HazardCover.now(history, lines, availability, hazard);
        this.restorable = cover.restorable();
        this.reading = new Reading(database, history, availability, hazard);
        this.logPath = new LogPath(history, reading);
    }

    /** Single copies are taken out of the history itself, for there they are told apart. */
    private static History without(DatabaseFacts facts, Losses losses) {
        History all = facts.history();
        if (losses.copies().isEmpty()) {
            return all;
        }
        Set<Integer> lost = new HashSet<>();
        for (Losses.LostCopy l : losses.copies()) {
            all.row(l.backup()).ifPresent(i -> {
                for (int c = all.firstCopy(i); c < all.firstCopy(i + 1); c++) {
                    if (all.store(c).equals(l.store())) {
                        lost.add(c);
                    }
                }
            });
        }
        return History.of(facts.database())
                .addAll(all, copy -> !lost.contains(copy), row -> {})
                .build();
    }

    /** What is left to be restored, in order. */
    public List<Piece> restorable() {
        return restorable;
    }

    /** The plan for the latest moment that can be restored. */
    public RestorePlan latest() {
        return restorable.stream()
                .map(Piece::to)
                .max(Comparator.naturalOrder())
                .map(this::to)
                .orElse(new RestorePlan(
                        Optional.empty(), List.of(), Optional.empty(), Optional.empty(), Optional.empty()));
    }

    /**
     * The plan for all there is: the latest moment, with every log that leads on where that is reached. Moments are told to a thousandth of
     * a second, so that such a log may hold a commit more and be no later (docs/semantics.md, "Restore plan"). With several streams it is
     * that for the latest moment: each ends where the others have reached it.
     */
    public RestorePlan everything() {
        RestorePlan latest = latest();
        return latest.ways().stream()
                .findFirst()
                .filter(w -> lines.streams() == 1)
                .flatMap(this::toTheEnd)
                .map(ways -> new RestorePlan(latest.target(), ways, latest.gap(), latest.before(), latest.after()))
                .orElse(latest);
    }

    /** The ways to where the logs end on which a way ends; empty where it ends there itself. */
    private Optional<List<Way>> toTheEnd(Way way) {
        int l = lineage(way.lineage());
        OptionalInt last = way.logs().stream()
                .filter(s -> s.lineage().equals(way.lineage()))
                .flatMapToInt(s -> history.row(s.backup()).stream())
                .reduce((a, b) -> b);
        if (last.isEmpty()) {
            return Optional.empty();
        }
        long reached = history.logTo(last.getAsInt());
        long end = cover.extendsTo(l, 0, reached);
        return end > reached
                ? Optional.of(toPositions(
                                way.lineage(), Map.of(database.streams().get(0), end)))
                        .filter(ways -> !ways.isEmpty())
                : Optional.empty();
    }

    /**
     * The way back to the latest moment from the newest data backup that restores it: mostly the quickest, and found without
     * working out the others.
     */
    public Optional<Way> newestWay() {
        Optional<Instant> latest = restorable.stream().map(Piece::to).max(Comparator.naturalOrder());
        for (int l = lineages.count() - 1; l >= 0 && latest.isPresent(); l--) {
            int[] data = lines.dataByAge(l);
            for (int k = data.length - 1; k >= 0; k--) {
                int tip = data[k];
                Optional<Piece> piece = cover.restoredBy(tip).stream()
                        .filter(p -> holds(p, latest.get()))
                        .findFirst();
                if (piece.isPresent()) {
                    return Optional.of(way(tip, piece.get(), latest.get()));
                }
            }
        }
        return Optional.empty();
    }

    /**
     * What cover rests on: every data backup something can be restored from, and the logs that lead from the first of them to the end of
     * each stretch (docs/semantics.md, "Evidence"). Empty where nothing can be restored.
     */
    public Optional<Footing> footing() {
        Set<Piece> begun = new HashSet<>();
        Map<Integer, Evidence> read = new HashMap<>();
        for (int l = 0; l < lineages.count(); l++) {
            for (int tip : lines.dataByAge(l)) {
                for (Piece p : cover.restoredBy(tip)) {
                    chain(tip).forEach(i -> read.computeIfAbsent(i, reading::evidence));
                    // Those that begin later in a stretch read no log that the first of it does not.
                    if (begun.add(new Piece(p.lineage(), p.to(), p.to()))) {
                        tails(tip, p, p.to()).forEach(t -> t.each(i -> read.computeIfAbsent(i, reading::evidence)));
                    }
                }
            }
        }
        return read.isEmpty() ? Optional.empty() : Optional.of(Footing.of(read.values()));
    }

    /** The plan for a moment; where it cannot be restored, what is nearest to it. */
    public RestorePlan to(Instant target) {
        List<Way> ways = ways(target);
        return new RestorePlan(
                Optional.of(target),
                ways,
                ways.isEmpty() ? gapAround(target) : Optional.empty(),
                restorable.stream()
                        .filter(p -> !p.from().isAfter(target))
                        .map(p -> p.to().isBefore(target) ? p.to() : target)
                        .max(Comparator.naturalOrder()),
                restorable.stream()
                        .filter(p -> !p.to().isBefore(target))
                        .map(p -> p.from().isAfter(target) ? p.from() : target)
                        .min(Comparator.naturalOrder()));
    }

    /**
     * The ways to a position in each stream of a lineage, the best first: each ends with the logs that hold those positions, where
     * applying stops.
     *
     * @param positions by stream, for all streams of the database
     * @throws IllegalArgumentException where a stream lacks one
     */
    public List<Way> toPositions(String lineage, Map<String, Long> positions) {
        int l = lineage(lineage);
        List<Found> found = new ArrayList<>();
        for (int own = 0; own < lineages.count(); own++) {
            for (int tip : lines.dataByAge(own)) {
                if (cover.usable(tip) && !cover.torn(tip) && cover.leadsInto(tip, l)) {
                    toPositions(tip, l, positions).ifPresent(w -> found.add(new Found(tip, w)));
                }
            }
        }
        return ranked(found);
    }

    private Optional<Way> toPositions(int tip, int lineage, Map<String, Long> positions) {
        List<Tail> logs = new ArrayList<>();
        Stages stages = Stages.of(history, lines, tip, lineage);
        for (int s = 0; s < lines.streams(); s++) {
            Long wanted = positions.get(database.streams().get(s));
            if (wanted == null) {
                throw new IllegalArgumentException(
                        "no position of stream " + database.streams().get(s) + " is given");
            }
            if (!stages.known(s) || stages.consistentAt(s) > wanted) {
                return Optional.empty();
            }
            LogPath.Goal goal = stages.goal(s, wanted, LogPath.NO_MOMENT, LogPath.NO_MOMENT);
            Optional<Tail> taken = logPath.take(history.start(tip, s), goal);
            if (taken.isEmpty() && goal.needsLogs(history.start(tip, s))) {
                return Optional.empty();
            }
            taken.ifPresent(logs::add);
        }
        return Optional.of(way(tip, lineages.id(lineage), Instant.ofEpochMilli(Long.MAX_VALUE), logs));
    }

    private Optional<Gap> gapAround(Instant target) {
        return Gaps.of(database, history, availability, cover, hazard).stream()
                .filter(g -> g.after().map(a -> !a.isAfter(target)).orElse(true))
                .filter(g -> g.before().map(b -> !b.isBefore(target)).orElse(true))
                .findFirst();
    }

    private List<Way> ways(Instant target) {
        List<Found> found = new ArrayList<>();
        for (int l = 0; l < lineages.count(); l++) {
            for (int i : lines.dataByAge(l)) {
                int tip = i;
                cover.restoredBy(i).stream()
                        .filter(p -> holds(p, target))
                        .findFirst()
                        .ifPresent(p -> found.add(new Found(tip, way(tip, p, target))));
            }
        }
        return ranked(found);
    }

    private List<Way> ranked(List<Found> found) {
        found.sort(Comparator.<Found, Boolean>comparing(f -> !f.way.timeKnown())
                .thenComparing(f -> f.way.time())
                .thenComparing(Comparator.<Found>comparingLong(f -> -history.consistentAtMs(f.tip)))
                .thenComparing((a, b) -> history.compareIds(b.tip, a.tip)));
        return found.stream().map(Found::way).toList();
    }

    private record Found(int tip, Way way) {}

    /** Whether a stretch holds a moment; the one at which the next lineage opens, it does where nothing else can. */
    private boolean holds(Piece piece, Instant target) {
        return !piece.from().isAfter(target)
                && !piece.to().isBefore(target)
                && (lineages.inForceAt(lineage(piece.lineage()), target.toEpochMilli())
                        || restorable.stream()
                                .noneMatch(p -> lineages.inForceAt(lineage(p.lineage()), target.toEpochMilli())
                                        && !p.from().isAfter(target)
                                        && !p.to().isBefore(target)));
    }

    private int lineage(String id) {
        int l = 0;
        while (!lineages.id(l).equals(id)) {
            l++;
        }
        return l;
    }

    private Way way(int tip, Piece piece, Instant target) {
        return way(tip, piece.lineage(), target, tails(tip, piece, target));
    }

    /** The logs from a data backup to a moment of a stretch, by stream. */
    private List<Tail> tails(int tip, Piece piece, Instant target) {
        List<Tail> logs = new ArrayList<>();
        Stages stages = Stages.of(history, lines, tip, lineage(piece.lineage()));
        long begins = stages.beginsMs();
        long until = target.toEpochMilli() > begins ? target.toEpochMilli() : LogPath.NO_MOMENT;
        for (int s = 0; s < lines.streams(); s++) {
            if (stages.known(s)) {
                logPath.take(history.start(tip, s), stages.goal(s, stages.consistentAt(s), begins, until))
                        .ifPresent(logs::add);
            }
        }
        return logs;
    }

    /** A data backup and what it rests on, the newest first. */
    private List<Integer> chain(int tip) {
        List<Integer> chain = new ArrayList<>();
        for (int at = tip; at >= 0; at = availability.needsParent(at) ? history.parent(at) : -1) {
            chain.add(at);
        }
        return chain;
    }

    private Way way(int tip, String lineage, Instant target, List<Tail> logs) {
        List<Integer> before = chain(tip);
        configBefore(target).ifPresent(before::add);
        Collections.reverse(before);
        long time = 0;
        boolean known = true;
        int count = 0;
        for (int i : before) {
            long own = reading.timeMs(i);
            time += Math.max(0, own);
            known &= own != Reading.UNKNOWN;
        }
        for (Tail t : logs) {
            time += t.timeMs();
            known &= t.timeKnown();
            count += t.count();
        }
        return new Way(
                before.stream().map(reading::step).toList(),
                () -> {
                    List<Step> out = new ArrayList<>();
                    logs.forEach(t -> t.each(i -> out.add(reading.step(i))));
                    return out;
                },
                lineage,
                count,
                Duration.ofMillis(time),
                known);
    }

    private OptionalInt configBefore(Instant target) {
        int newest = -1;
        for (int i : history.others()) {
            if (history.kind(i) == Kind.CONFIG
                    && history.startedMs(i) <= target.toEpochMilli()
                    && availability.availableNow(i, hazard)
                    && (newest < 0
                            || history.startedMs(i) > history.startedMs(newest)
                            || history.startedMs(i) == history.startedMs(newest)
                                    && history.compareIds(i, newest) > 0)) {
                newest = i;
            }
        }
        return newest < 0 ? OptionalInt.empty() : OptionalInt.of(newest);
    }
}
