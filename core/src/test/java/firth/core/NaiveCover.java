package firth.core;

import firth.core.cover.Piece;
import firth.core.model.Backup;
import firth.core.model.BackupStore;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Positions;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A second opinion on what can be restored: the rules word by word, one moment at a time, without regard to speed. */
final class NaiveCover {

    /** A log, the part of it that is there, or what of it another lineage repeats, which has no time. */
    private record Log(String lineage, String stream, long from, long to, Optional<Instant> time, boolean part) {

        /** Whether it takes part in an extension. */
        boolean within(long begin, long end) {
            return from == to ? begin <= from && from <= end : to > begin && (part ? from <= end : from < end);
        }
    }

    private final Database database;
    private final Fleet fleet;
    private final List<Backup> backups;
    private final Instant now;
    private final Hazard hazard;

    NaiveCover(RandomFleet world, Instant now, Hazard hazard) {
        this.database = world.database;
        this.fleet = world.fleet;
        this.backups = world.backups;
        this.now = now;
        this.hazard = hazard;
    }

    // -- availability

    private boolean there(Backup b, Copy c, Instant t, boolean part) {
        Optional<BackupStore> store = fleet.store(c.store());
        Instant landed = c.landed();
        if (b.streamed()) {
            Instant whole = b.times().orElseThrow().to().plus(b.lag());
            boolean plain = c.statedLanding() && c.landed().isAfter(whole);
            Instant begin = b.times().orElseThrow().from().plus(b.lag());
            landed = plain ? landed : part ? begin : whole;
        }
        boolean there = store.isPresent()
                && !landed.isAfter(t)
                && c.gone().filter(g -> !g.isAfter(now)).map(g -> g.isAfter(t)).orElse(true)
                && c.spoiled()
                        .filter(s -> !s.found().isAfter(now))
                        .map(s -> s.since().map(since -> since.isAfter(t)).orElse(false))
                        .orElse(true);
        return there
                && switch (hazard) {
                    case MISHAP -> true;
                    case SITE_LOSS -> !store.get().site().equals(database.site());
                    case SABOTAGE -> c.lockedUntil().map(l -> l.isAfter(t)).orElse(false);
                };
    }

    private boolean exists(Backup b) {
        return known(lineageOf(b))
                && (b.kind() != Kind.LOG
                        || database.streams().containsAll(b.positions().keySet()));
    }

    boolean available(Backup b, Instant t, boolean part) {
        return exists(b) && b.copies().stream().anyMatch(c -> there(b, c, t, part));
    }

    private boolean usable(Backup b, Instant t) {
        if (!available(b, t, false)) {
            return false;
        }
        return b.kind() == Kind.FULL
                || b.parent()
                        .flatMap(p ->
                                backups.stream().filter(x -> x.id().equals(p)).findFirst())
                        .filter(p -> p.kind().isData() && usable(p, t))
                        .isPresent();
    }

    // -- lineages

    private Lineage lineageOf(Backup b) {
        String id = b.lineage().orElse(database.lineages().get(0).id());
        return database.lineages().stream()
                .filter(l -> l.id().equals(id))
                .findFirst()
                .orElseThrow();
    }

    private Instant opened(Lineage l) {
        return l.equals(database.lineages().get(0))
                ? database.inServiceFrom()
                : l.openedAt().orElseThrow();
    }

    private Instant until(Lineage l) {
        return database.lineages().stream()
                .skip(1)
                .map(this::opened)
                .filter(o -> !o.isAfter(now) && o.isAfter(opened(l)))
                .min(Comparator.naturalOrder())
                .orElse(Instant.MAX);
    }

    // -- extension

    private List<Log> logs(Instant t) {
        List<Log> out = new ArrayList<>();
        for (Backup b : backups) {
            if (b.kind() == Kind.LOG
                    && available(b, t, true)
                    && !opened(lineageOf(b)).isAfter(t)) {
                boolean whole = available(b, t, false);
                Map.Entry<String, Positions> p =
                        b.positions().entrySet().iterator().next();
                out.add(new Log(
                        lineageOf(b).id(),
                        p.getKey(),
                        p.getValue().from(),
                        p.getValue().to(),
                        Optional.of(whole ? b.times().orElseThrow().to() : t.minus(b.lag())),
                        !whole));
                out.addAll(repeated(b));
            }
        }
        return out;
    }

    /** What a log holds before its lineage left its parent is the parent's as well, and so on upwards. */
    private List<Log> repeated(Backup log) {
        List<Log> out = new ArrayList<>();
        upwards(log)
                .forEach((lineage, p) -> out.add(new Log(
                        lineage,
                        log.positions().keySet().iterator().next(),
                        p.from(),
                        p.to(),
                        Optional.empty(),
                        false)));
        return out;
    }

    Map<String, Positions> upwards(Backup log) {
        Map<String, Positions> out = new HashMap<>();
        String stream = log.positions().keySet().iterator().next();
        Positions left = log.positions().get(stream);
        for (Lineage at = lineageOf(log); at.parent().isPresent(); ) {
            long fork = at.forkPos().getOrDefault(stream, -1L);
            if (left.from() >= Math.min(left.to(), fork)) {
                break;
            }
            left = new Positions(left.from(), Math.min(left.to(), fork));
            String parent = at.parent().get();
            out.put(parent, left);
            at = database.lineages().stream()
                    .filter(l -> l.id().equals(parent))
                    .findFirst()
                    .orElseThrow();
        }
        return out;
    }

    private static long extend(long from, List<Log> logs) {
        long p = from;
        boolean moved = true;
        while (moved) {
            moved = false;
            for (Log l : logs) {
                if (!l.part && l.from <= p && p < l.to) {
                    p = l.to;
                    moved = true;
                }
            }
        }
        return p;
    }

    private static boolean reaches(long from, long target, Instant notBefore, List<Log> logs) {
        long end = extend(from, logs);
        return end >= target
                || logs.stream()
                        .anyMatch(l -> l.part
                                && l.from <= end
                                && target <= l.to
                                && !l.time.orElseThrow().isBefore(notBefore));
    }

    private static Optional<Instant> reached(long from, List<Log> logs) {
        long end = extend(from, logs);
        return logs.stream()
                .filter(l -> l.within(from, end))
                .flatMap(l -> l.time.stream())
                .max(Comparator.naturalOrder());
    }

    private List<Log> of(Lineage l, String stream, List<Log> logs) {
        return logs.stream()
                .filter(x -> x.lineage.equals(l.id()) && x.stream.equals(stream))
                .toList();
    }

    // -- what a backup restores

    private boolean torn(Backup b, List<Log> logs) {
        return !b.selfContained()
                && b.positions().entrySet().stream()
                        .filter(e -> database.streams().contains(e.getKey()))
                        .anyMatch(e -> !reaches(
                                e.getValue().from(),
                                e.getValue().to(),
                                b.consistentAt(),
                                of(lineageOf(b), e.getKey(), logs)));
    }

    private void restores(
            Lineage l, Instant from, Map<String, Long> positions, List<Log> logs, Instant t, List<Piece> out) {
        Instant end = null;
        for (String s : database.streams()) {
            Optional<Instant> time =
                    positions.containsKey(s) ? reached(positions.get(s), of(l, s, logs)) : Optional.empty();
            if (time.isEmpty()) {
                end = from;
                break;
            }
            end = end == null || time.get().isBefore(end) ? time.get() : end;
        }
        end = end.isBefore(from) ? from : end;
        Instant until = until(l);
        Instant begin = from.isBefore(opened(l)) ? opened(l) : from;
        Instant stop = end.isAfter(until) ? until : end;
        stop = stop.isAfter(t) ? t : stop;
        if (!begin.isAfter(stop) && begin.isBefore(until)) {
            out.add(new Piece(l.id(), begin, stop));
        }
        for (Lineage child : database.lineages()) {
            if (child.parent().filter(l.id()::equals).isPresent()
                    && !opened(child).isAfter(t)
                    && database.streams().stream()
                            .allMatch(s -> positions.containsKey(s)
                                    && child.forkPos().containsKey(s)
                                    && positions.get(s) <= child.forkPos().get(s)
                                    && reaches(
                                            positions.get(s), child.forkPos().get(s), opened(child), of(l, s, logs)))) {
                restores(child, opened(child), child.forkPos(), logs, t, out);
            }
        }
    }

    /** What a backup restores as of now, in each lineage it leads into; empty where it is not usable, or torn. */
    List<Piece> restoredBy(Backup b) {
        List<Piece> out = new ArrayList<>();
        List<Log> logs = logs(now);
        if (b.kind().isData() && usable(b, now) && !b.consistentAt().isAfter(now) && !torn(b, logs)) {
            Map<String, Long> ends = new HashMap<>();
            b.positions().forEach((s, p) -> ends.put(s, p.to()));
            restores(lineageOf(b), b.consistentAt(), ends, logs, now, out);
        }
        return out;
    }

    boolean thereNow(Backup b, Copy c) {
        return exists(b) && there(b, c, now, false);
    }

    /** Whether a backup belongs to a lineage or is carried over into it. */
    boolean leads(Backup b, Lineage into) {
        return lineageOf(b).equals(into)
                || restoredBy(b).stream().anyMatch(p -> p.lineage().equals(into.id()));
    }

    Instant openedAt(Lineage l) {
        return opened(l);
    }

    Instant inForceUntil(Lineage l) {
        return until(l);
    }

    boolean usableNow(Backup b) {
        return b.kind().isData() && usable(b, now) && !b.consistentAt().isAfter(now);
    }

    String lineageId(Backup b) {
        return lineageOf(b).id();
    }

    boolean known(Lineage l) {
        return l.equals(database.lineages().get(0)) || !opened(l).isAfter(now);
    }

    /** What is restorable at a moment, merged within each lineage. */
    List<Piece> restorable(Instant t) {
        List<Log> logs = logs(t);
        Map<String, List<Piece>> found = new HashMap<>();
        for (Backup b : backups) {
            if (b.kind().isData()
                    && !opened(lineageOf(b)).isAfter(t)
                    && usable(b, t)
                    && !b.consistentAt().isAfter(t)
                    && !torn(b, logs)) {
                Map<String, Long> ends = new HashMap<>();
                b.positions().forEach((s, p) -> ends.put(s, p.to()));
                List<Piece> own = new ArrayList<>();
                restores(lineageOf(b), b.consistentAt(), ends, logs, t, own);
                own.forEach(p -> found.computeIfAbsent(p.lineage(), x -> new ArrayList<>())
                        .add(p));
            }
        }
        List<Piece> out = new ArrayList<>();
        found.values().forEach(pieces -> merge(pieces, out));
        out.sort(Comparator.comparing(Piece::from).thenComparing(Piece::to));
        return out;
    }

    private static void merge(List<Piece> pieces, List<Piece> out) {
        pieces.sort(Comparator.comparing(Piece::from));
        int begin = out.size();
        for (Piece p : pieces) {
            Piece last = out.size() > begin ? out.get(out.size() - 1) : null;
            if (last != null && !p.from().isAfter(last.to())) {
                Instant to = p.to().isAfter(last.to()) ? p.to() : last.to();
                out.set(out.size() - 1, new Piece(p.lineage(), last.from(), to));
            } else {
                out.add(p);
            }
        }
    }

    Optional<Instant> recoveryPoint(Instant t) {
        return restorable(t).stream().map(Piece::to).max(Comparator.naturalOrder());
    }
}
