package firth.core.adherence;

import firth.core.cover.RecoveryTimeline;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * The time from when a database came into service to its first restorable moment, where that came, or still can come, in time
 * (docs/semantics.md, "Reach and grade"). It ends with what it began with where nothing came in time, and no fault is forgiven.
 *
 * @param until when it ended; {@link #LASTS} while it does not
 */
public record Onboarding(long until) {

    /** It has not ended by now. */
    public static final long LASTS = Long.MAX_VALUE;

    /** How long a database has in which no data backup is expected. */
    public static final Duration WITHOUT_SLOT = Duration.ofHours(24);

    /** How far ahead a first slot is looked for. */
    private static final Duration[] AHEAD = {
        Duration.ofDays(8), Duration.ofDays(64), Duration.ofDays(800), Duration.ofDays(8000)
    };

    /**
     * @param timeline how the recovery point after a mishap moved
     * @param now what landed later is not known
     */
    public static Onboarding of(Database database, Fleet fleet, RecoveryTimeline timeline, long now) {
        long inService = database.inServiceFrom().toEpochMilli();
        long landed = firstRestorable(timeline, now);
        if (landed <= inService || now < inService) {
            return new Onboarding(inService);
        }
        long deadline = deadline(database, fleet).toEpochMilli();
        if (landed < deadline) {
            return new Onboarding(landed);
        }
        return new Onboarding(now < deadline ? LASTS : inService);
    }

    /** From when until when the run of a slot may start. */
    private record Window(Instant open, Instant close) {}

    public boolean lasts() {
        return until == LASTS;
    }

    /** When something could be restored first; {@link #LASTS} where nothing ever could. */
    private static long firstRestorable(RecoveryTimeline timeline, long now) {
        for (int step = 0; step < timeline.steps(); step++) {
            if (timeline.flows(step) || timeline.latestMs(step) != RecoveryTimeline.NOTHING) {
                return timeline.atMs(step) <= now ? timeline.atMs(step) : LASTS;
            }
        }
        return LASTS;
    }

    /**
     * Up to when a first restorable moment is in time: the close of the first data slot of the version in force when the database came
     * into service, else {@link #WITHOUT_SLOT} after that.
     */
    public static Instant deadline(Database database, Fleet fleet) {
        Instant begin = database.inServiceFrom();
        Optional<PolicyVersion> version = fleet.versionAt(database, begin);
        Optional<Instant> replaced = fleet.changes(database).stream()
                .filter(begin::isBefore)
                .sorted()
                .filter(m -> !fleet.versionAt(database, m).equals(version))
                .findFirst();
        return version.filter(PolicyVersion::enabled)
                .flatMap(v -> firstClose(database, v, replaced.orElse(Instant.MAX)))
                .orElse(begin.plus(WITHOUT_SLOT));
    }

    private static Optional<Instant> firstClose(Database database, PolicyVersion version, Instant replaced) {
        Instant begin = database.inServiceFrom();
        for (Duration ahead : AHEAD) {
            Instant end = begin.plus(ahead).isBefore(replaced) ? begin.plus(ahead) : replaced;
            List<Window> windows = new ArrayList<>();
            version.live().stream().filter(s -> s.kind().isData()).forEach(s -> {
                List<Instant> openings = s.openings(version, database.zone(), begin, end);
                openings.stream()
                        .limit(1)
                        .forEach(open -> windows.add(
                                new Window(open, open.plus(s.within().orElse(Duration.ZERO)))));
            });
            if (!windows.isEmpty() || end.equals(replaced)) {
                return windows.stream()
                        .min(Comparator.comparing(Window::open).thenComparing(Window::close))
                        .map(Window::close);
            }
        }
        return Optional.empty();
    }
}
