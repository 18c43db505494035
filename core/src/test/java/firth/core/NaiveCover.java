package firth.core;

import firth.core.cover.Hazard;
import firth.core.fleet.BackupStore;
import firth.core.history.Backup;
import firth.core.history.Copy;
import firth.core.history.Kind;
import firth.core.history.Positions;
import firth.core.time.Span;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** A second opinion on what can be restored: the rules word by word, one moment at a time, without regard to speed. */
final class NaiveCover {

    private final RandomFleet world;
    private final Instant now;
    private final Hazard hazard;

    NaiveCover(RandomFleet world, Instant now, Hazard hazard) {
        this.world = world;
        this.now = now;
        this.hazard = hazard;
    }

    private boolean survives(Copy c, Instant t) {
        Optional<BackupStore> store = world.fleet.store(c.store());
        boolean there = store.isPresent()
                && !c.landed().isAfter(t)
                && !c.landed().isAfter(now)
                && c.gone().filter(g -> !g.isAfter(now)).map(g -> g.isAfter(t)).orElse(true)
                && c.spoiled()
                        .filter(s -> !s.found().isAfter(now))
                        .map(s -> s.since().map(since -> since.isAfter(t)).orElse(false))
                        .orElse(true);
        return there
                && switch (hazard) {
                    case MISHAP -> true;
                    case SITE_LOSS -> !store.get().site().equals(world.database.site());
                    case SABOTAGE -> c.lockedUntil().map(l -> l.isAfter(t)).orElse(false);
                };
    }

    private boolean available(Backup b, Instant t) {
        return !b.started().isAfter(now) && b.copies().stream().anyMatch(c -> survives(c, t));
    }

    private boolean usable(Backup b, Instant t) {
        if (!available(b, t)) {
            return false;
        }
        if (b.kind() == Kind.FULL) {
            return true;
        }
        return b.parent()
                .flatMap(p ->
                        world.backups.stream().filter(x -> x.id().equals(p)).findFirst())
                .filter(p -> p.kind().isData() && usable(p, t))
                .isPresent();
    }

    private static long extend(long from, List<Backup> logs) {
        long p = from;
        boolean moved = true;
        while (moved) {
            moved = false;
            for (Backup l : logs) {
                Positions own = l.positions().get("main");
                if (own.from() <= p && p < own.to()) {
                    p = own.to();
                    moved = true;
                }
            }
        }
        return p;
    }

    /** The stretches restorable at a moment, merged. */
    List<Span> restorable(Instant t) {
        List<Backup> logs = world.backups.stream()
                .filter(b -> b.kind() == Kind.LOG && available(b, t))
                .toList();
        List<Span> found = new ArrayList<>();
        for (Backup b : world.backups) {
            if (b.kind().isData() && usable(b, t) && !b.consistentAt().isAfter(t)) {
                restores(b, logs, t).ifPresent(found::add);
            }
        }
        found.sort(Comparator.comparing(Span::from));
        List<Span> out = new ArrayList<>();
        for (Span s : found) {
            Span last = out.isEmpty() ? null : out.get(out.size() - 1);
            if (last != null && !s.from().isAfter(last.to())) {
                out.set(out.size() - 1, new Span(last.from(), s.to().isAfter(last.to()) ? s.to() : last.to()));
            } else {
                out.add(s);
            }
        }
        return out;
    }

    private static Optional<Span> restores(Backup b, List<Backup> logs, Instant t) {
        Positions own = b.positions().get("main");
        Instant end = b.consistentAt();
        if (own != null) {
            if (!b.selfContained() && extend(own.from(), logs) < own.to()) {
                return Optional.empty();
            }
            long reached = extend(own.to(), logs);
            boolean extended = reached > own.to()
                    || logs.stream()
                            .map(l -> l.positions().get("main"))
                            .anyMatch(p -> p.from() == reached && p.to() == reached);
            if (extended) {
                Instant latest = logs.stream()
                        .filter(l -> l.positions().get("main").to() == reached)
                        .map(l -> l.times().orElseThrow().to())
                        .max(Comparator.naturalOrder())
                        .orElseThrow();
                end = latest.isAfter(end) ? latest : end;
            }
        }
        end = end.isAfter(t) ? t : end;
        return Optional.of(new Span(b.consistentAt(), end));
    }

    Optional<Instant> recoveryPoint(Instant t) {
        return restorable(t).stream().map(Span::to).max(Comparator.naturalOrder());
    }
}
