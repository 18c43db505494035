package firth.core.forecast;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.RecoveryTimeline;
import firth.core.evaluation.Reach;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.objective.Achieved;
import firth.core.objective.AgePieces;
import firth.core.objective.Attainment;
import firth.core.objective.ObjectiveTimeline;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * How a database will fare over the next days when its backups go as they have gone (docs/foresight.md).
 *
 * @param over how far it looks ahead; shorter where logs come very often
 * @param fare how it fares meanwhile; the reach is that of the forecast, once what no rule needs is gone
 */
public record Foresight(Duration over, Fare fare) {

    /** So far ahead one looks at most. */
    static final Duration AHEAD = AsBefore.BACK;

    /** Logs of one database that are looked at, about: where they come more often one looks less far ahead, yet a day. */
    private static final long LOGS = 9_000;

    private static final Duration DAY = Duration.ofDays(1);

    /**
     * Looks ahead.
     *
     * @param fleet with the policies as they are to be
     * @param room what was forecast of the same
     * @return empty where too little has happened yet to tell: fewer than seven days of backups, or logs are asked for of which there never
     *     was one
     */
    public static Optional<Foresight> of(Forecast.Basis basis, Fleet fleet, Forecast room) {
        Database database = basis.database();
        Optional<PolicyVersion> version = fleet.versionAt(database, basis.now());
        List<Schedule> logs = version.stream()
                .flatMap(v -> v.live().stream())
                .filter(s -> s.kind() == Kind.LOG)
                .toList();
        boolean unheardOf = !logs.isEmpty() && !basis.habits().logs().known();
        if (version.isEmpty() || !basis.before().isKnown() || unheardOf) {
            return Optional.empty();
        }
        Duration over = over(basis.habits(), logs);
        Luck luck = basis.before().under(version.get(), DAY.toMillis() / LOGS);
        Ahead ahead = basis.ahead(fleet, luck);
        Instant until = basis.now().plus(over);
        History history = ahead.until(until);
        Optional<Boolean> reachHeld = room.reach().flatMap(Reach::cover).map(c -> c >= 1);
        return Optional.of(new Coming(database, fleet, history, basis.now(), until).foresight(over, ahead, reachHeld));
    }

    private static Duration over(Habits habits, List<Schedule> logs) {
        Optional<Duration> every =
                logs.stream().flatMap(s -> s.every().stream()).min(Comparator.naturalOrder());
        if (habits.logs().streamed() || every.isEmpty()) {
            return AHEAD;
        }
        Duration most = every.get().multipliedBy(LOGS);
        return most.compareTo(DAY) < 0 ? DAY : most.compareTo(AHEAD) < 0 ? most : AHEAD;
    }

    /** What is to come, looked at from its end. */
    private static final class Coming {

        private final Database database;
        private final Fleet fleet;
        private final History history;
        private final Instant from;
        private final Instant until;
        private final Availability availability;
        private final Lines lines;
        private final Map<Hazard, RecoveryTimeline> seen = new HashMap<>();

        Coming(Database database, Fleet fleet, History history, Instant from, Instant until) {
            this.database = database;
            this.fleet = fleet;
            this.history = history;
            this.from = from;
            this.until = until;
            this.availability = new Availability(database, fleet, history, until.toEpochMilli());
            this.lines = new Lines(history, availability);
        }

        Foresight foresight(Duration over, Ahead ahead, Optional<Boolean> reachHeld) {
            Map<Hazard, Duration> worst = new EnumMap<>(Hazard.class);
            Set<Hazard> broken = EnumSet.noneOf(Hazard.class);
            Optional<Double> within = Optional.empty();
            for (Hazard hazard : Hazard.values()) {
                AgePieces ages = ages(timeline(hazard));
                Attainment attainment = Attainment.of(ages, ObjectiveTimeline.of(fleet, database, hazard));
                worst.put(hazard, Duration.ofMillis((long)
                        Achieved.of(ages, Optional.empty()).max()));
                if (!attainment.breaches().isEmpty()) {
                    broken.add(hazard);
                }
                within = hazard == Hazard.MISHAP ? attainment.share() : within;
            }
            return new Foresight(over, new Fare(within, worst, broken, reachHeld, ahead.kept(), ahead.asked()));
        }

        /** Under hazards that leave the same it is the same. */
        private RecoveryTimeline timeline(Hazard hazard) {
            RecoveryTimeline out = seen.entrySet().stream()
                    .filter(e -> availability.leaveTheSame(e.getKey(), hazard))
                    .map(Map.Entry::getValue)
                    .findFirst()
                    .orElseGet(() ->
                            HazardCover.of(history, lines, availability, hazard).timeline());
            seen.put(hazard, out);
            return out;
        }

        private AgePieces ages(RecoveryTimeline timeline) {
            long inService = database.inServiceFrom().toEpochMilli();
            return AgePieces.of(
                    timeline,
                    database.clock(),
                    inService,
                    Math.max(inService, from.toEpochMilli()),
                    until.toEpochMilli());
        }
    }
}
