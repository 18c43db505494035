package firth.exchange;

import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.exchange.DatesAndTimes.CannotSay;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The schedules of a host's databases for those who start backups with cron or systemd. What such a form cannot express is
 * said where it is missing, never left out in silence.
 */
public final class HostSchedules {

    private static final String NOTE = """
            # Start windows, graces, closures and what a slot of a weaker kind gives way to are not expressed here:
            # Firth judges the runs by them all the same.
            """;

    private HostSchedules() {}

    /** A database and the version of the policy it follows. */
    public record Served(Database database, PolicyVersion version) {}

    private static Map<String, List<Served>> byHost(List<Served> all) {
        return all.stream()
                .collect(Collectors.groupingBy(
                        s -> s.database().particulars().host().orElse("no host stated"),
                        TreeMap::new,
                        Collectors.toList()));
    }

    /** Crontab lines, host by host. Each runs the command in FIRTH_START with the kind and the database. */
    public static String crontab(List<Served> all) {
        StringBuilder out = new StringBuilder("# Crontab lines by host, from Firth. Set FIRTH_START to what starts a"
                + " backup; it is given the kind and the database.\n" + NOTE);
        byHost(all).forEach((host, served) -> {
            out.append("\n# ---- ").append(host).append(" ----\n");
            String zone = "";
            for (Served s : served) {
                if (!s.database().zone().getId().equals(zone)) {
                    zone = s.database().zone().getId();
                    out.append("CRON_TZ=").append(zone).append('\n');
                }
                Together together = new Together(s);
                for (Schedule schedule : s.version().live()) {
                    out.append(line(s, schedule, together));
                }
            }
        });
        return out.toString();
    }

    /** Which schedules of one kind open at the same moments, so that one run is to serve them. */
    private static final class Together {
        /** Two years: every weekday falls on every day of the month. */
        private static final Duration LOOKED_AT = Duration.ofDays(732);

        private final Map<Schedule, Set<Instant>> openings = new LinkedHashMap<>();

        Together(Served s) {
            Instant from = s.version().effectiveFrom();
            Map<Kind, List<Schedule>> byKind = s.version().live().stream()
                    .filter(x -> x.recurrence().isPresent())
                    .collect(Collectors.groupingBy(Schedule::kind, TreeMap::new, Collectors.toList()));
            byKind.values().stream()
                    .filter(those -> those.size() > 1)
                    .flatMap(List::stream)
                    .forEach(x -> openings.put(
                            x,
                            new HashSet<>(x.openings(s.version(), s.database().zone(), from, from.plus(LOOKED_AT)))));
        }

        private Stream<Map.Entry<Schedule, Set<Instant>>> others(Schedule schedule) {
            return openings.entrySet().stream()
                    .filter(o -> !o.getKey().equals(schedule) && o.getKey().kind() == schedule.kind());
        }

        /** Another that has a line and whose every run serves it; of two alike the second gives way. */
        Optional<Schedule> servedBy(Schedule schedule) {
            Set<Instant> own = openings.getOrDefault(schedule, Set.of());
            List<Schedule> order = List.copyOf(openings.keySet());
            return others(schedule)
                    .filter(o -> !own.isEmpty()
                            && time(o.getKey()).isPresent()
                            && o.getValue().containsAll(own))
                    .filter(o ->
                            o.getValue().size() > own.size() || order.indexOf(o.getKey()) < order.indexOf(schedule))
                    .map(Map.Entry::getKey)
                    .findFirst();
        }

        /** Whether another opens at some of its moments. */
        boolean meets(Schedule schedule) {
            Set<Instant> own = openings.getOrDefault(schedule, Set.of());
            return others(schedule).anyMatch(o -> o.getValue().stream().anyMatch(own::contains));
        }
    }

    private static String line(Served s, Schedule schedule, Together together) {
        String what = schedule.kind().word() + " of " + s.database().name() + " ("
                + s.version().name() + ", " + schedule.id() + ")";
        Optional<String> time = time(schedule);
        Optional<Schedule> servedBy = together.servedBy(schedule);
        if (time.isPresent() && servedBy.isPresent()) {
            return "# " + what + ": every one falls on " + servedBy.get().id() + ", whose run serves both\n";
        }
        String start =
                "$FIRTH_START " + schedule.kind().word() + " " + s.database().id();
        String command = together.meets(schedule)
                ? "flock -n \"/tmp/firth-" + schedule.kind().word() + "-"
                        + s.database().id().replace('/', '-') + "\" -c \"" + start + "; sleep 61\""
                : start;
        return time.map(t -> "# " + what + (together.meets(schedule) ? ", one run where it falls on another" : "")
                        + "\n" + t + " " + command + "\n")
                .orElseGet(() -> "# cannot be written as a cron line: " + what + ": " + written(schedule) + ": "
                        + why(schedule, DatesAndTimes::cron) + "\n");
    }

    /** When cron is to start it, where that can be said. */
    private static Optional<String> time(Schedule schedule) {
        if (schedule.every().isPresent()) {
            return everyAsCron(schedule.every().get());
        }
        String written = written(schedule);
        if (!written.toUpperCase(Locale.ROOT).contains("FREQ=")) {
            return Optional.of(written);
        }
        try {
            return Optional.of(
                    DatesAndTimes.of(schedule.recurrence().orElseThrow()).cron());
        } catch (CannotSay e) {
            return Optional.empty();
        }
    }

    private interface Saying {
        Object of(DatesAndTimes recurrence) throws CannotSay;
    }

    /** Why a schedule cannot be said in some way. */
    private static String why(Schedule schedule, Saying saying) {
        if (schedule.every().isPresent()) {
            return "it divides neither an hour nor a day, and cron begins anew with each";
        }
        try {
            return String.valueOf(
                    saying.of(DatesAndTimes.of(schedule.recurrence().orElseThrow())));
        } catch (CannotSay e) {
            return e.why();
        }
    }

    private static String written(Schedule schedule) {
        return schedule.every()
                .map(Duration::toString)
                .orElseGet(() -> schedule.recurrence().orElseThrow().written());
    }

    /** Minutes that divide an hour, hours that divide a day: cron begins anew with each. */
    private static Optional<String> everyAsCron(Duration every) {
        long minutes = every.toMinutes();
        if (every.toSecondsPart() != 0 || minutes == 0) {
            return Optional.empty();
        }
        if (minutes < 60 && 60 % minutes == 0) {
            return Optional.of(minutes == 1 ? "* * * * *" : "*/" + minutes + " * * * *");
        }
        boolean hours = minutes % 60 == 0 && minutes / 60 <= 24 && 24 % (minutes / 60) == 0;
        return hours ? Optional.of("0 " + (minutes == 60 ? "*" : "*/" + minutes / 60) + " * * *") : Optional.empty();
    }

    /** systemd timer units, host by host, each after a line that names its file. */
    public static String timers(List<Served> all) {
        StringBuilder out =
                new StringBuilder("# systemd timers by host, from Firth. Each starts firth-start@KIND:DATABASE.service,"
                        + " a unit of yours. Two that\n# elapse together start one run: a service that is starting or active is not started twice.\n"
                        + NOTE);
        byHost(all).forEach((host, served) -> {
            out.append("\n# ==== ").append(host).append(" ====\n");
            served.forEach(s -> s.version().live().forEach(schedule -> out.append(timer(s, schedule))));
        });
        return out.toString();
    }

    private static String timer(Served s, Schedule schedule) {
        String file = s.database().id().replace('/', '-') + "-" + schedule.id().replace('/', '-') + ".timer";
        String when;
        try {
            when = schedule.every().isPresent()
                    ? "OnActiveSec=" + schedule.every().get().toSeconds() + "s\nOnUnitActiveSec="
                            + schedule.every().get().toSeconds() + "s"
                    : "OnCalendar="
                            + String.join(
                                    "\nOnCalendar=",
                                    DatesAndTimes.of(schedule.recurrence().orElseThrow())
                                            .calendar(s.database().zone()));
        } catch (CannotSay e) {
            return "\n# cannot be written as a timer: " + schedule.kind().word() + " of "
                    + s.database().name() + ": " + written(schedule) + ": " + e.why() + "\n";
        }
        return String.format(
                Locale.ROOT,
                """

                # ---- %s ----
                [Unit]
                Description=%s of %s (%s, %s)

                [Timer]
                %s
                AccuracySec=1s
                Unit=firth-start@%s:%s.service

                [Install]
                WantedBy=timers.target
                """,
                file,
                schedule.kind().word(),
                s.database().name(),
                s.version().name(),
                schedule.id(),
                when,
                schedule.kind().word(),
                s.database().id());
    }
}
