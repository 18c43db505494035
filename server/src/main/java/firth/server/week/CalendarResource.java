package firth.server.week;

import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Assignment;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.time.Span;
import firth.exchange.SlotCalendar;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Slots to come for programs that show calendars. */
@Path("/api/out/slots.ics")
@RolesAllowed(Roles.VIEWER)
public class CalendarResource {

    /** Slots are worked out so far ahead; rules go on. */
    private static final Duration AHEAD = Duration.ofDays(35);

    /** A database that has been in service for longer has the slots of one that always was. */
    private static final Duration LONG_AGO = Duration.ofDays(400);

    private final Summaries summaries;
    private final WeekPart part;
    private final Lookout lookout;

    CalendarResource(Summaries summaries, WeekPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    /** The slots of the next five weeks, as rules where they are that, with closures. */
    @GET
    @Produces("text/calendar")
    public String calendar(@BeanParam CalendarAsked asked) {
        Instant now = lookout.now();
        Span span = new Span(now, now.plus(AHEAD));
        Parts<WeekPart.WeekAhead> all = summaries.all(lookout.view("", ""), part);
        Map<Rules, List<WeekPart.WeekAhead>> alike = new LinkedHashMap<>();
        for (WeekPart.WeekAhead own : all.each()) {
            if (!own.database().retiredAt(now) && asked.fits(own, now)) {
                alike.computeIfAbsent(Rules.of(all.now(), own.database(), now), r -> new ArrayList<>())
                        .add(own);
            }
        }
        List<SlotCalendar.Alike> expected = alike.values().parallelStream()
                .map(some -> new SlotCalendar.Alike(
                        some.stream()
                                .map(own -> new SlotCalendar.Named(own.database(), usual(own)))
                                .toList(),
                        expected(all.now(), some.get(0).database(), span)))
                .toList();
        return SlotCalendar.of(
                expected,
                all.now().closures().stream()
                        .filter(c -> c.span().to().isAfter(now))
                        .toList(),
                now,
                span);
    }

    /** What the slots of a database follow from: they are worked out once for all of which it is the same. */
    private record Rules(
            Optional<String> policy,
            List<Assignment> assigned,
            ZoneId zone,
            Instant since,
            List<Database.Stop> stopped,
            List<Closure> closures) {

        static Rules of(FleetNow fleet, Database database, Instant now) {
            Instant longAgo = now.minus(LONG_AGO);
            return new Rules(
                    database.policy(),
                    database.assigned(),
                    database.zone(),
                    database.inServiceFrom().isBefore(longAgo) ? longAgo : database.inServiceFrom(),
                    database.stopped(),
                    fleet.closures().stream()
                            .filter(c ->
                                    c.database().filter(database.id()::equals).isPresent())
                            .toList());
        }
    }

    private static List<Expected> expected(FleetNow fleet, Database database, Span span) {
        History nothing = History.of(database).build();
        DatabaseFacts rules = new DatabaseFacts(database, nothing, fleet.holds(database.id()), fleet.closures());
        return Expected.of(rules, fleet.fleet(), Habits.of(database, nothing, span.from()), span.from(), span);
    }

    /** How long its runs usually take is known from the week, by schedule. */
    private static Map<String, Duration> usual(WeekPart.WeekAhead own) {
        Map<String, Duration> out = new HashMap<>();
        own.expected()
                .forEach(e -> e.usual()
                        .ifPresent(
                                u -> out.merge(e.slot().schedule(), u.median(), (a, b) -> a.compareTo(b) > 0 ? a : b)));
        return out;
    }
}
