package firth.server.week;

import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.forecast.Usual;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
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
import java.util.Comparator;
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
        Map<Database, List<Expected>> expected = new LinkedHashMap<>();
        for (WeekPart.WeekAhead own : all.each()) {
            Database database = own.database();
            if (!database.retiredAt(now) && asked.fits(own, now)) {
                expected.put(database, expected(all.now(), own, span));
            }
        }
        return SlotCalendar.of(
                expected,
                all.now().closures().stream()
                        .filter(c -> c.span().to().isAfter(now))
                        .toList(),
                now,
                span);
    }

    /** The slots follow from the rules alone; how long their runs usually take is known from the week. */
    private static List<Expected> expected(FleetNow fleet, WeekPart.WeekAhead own, Span span) {
        Database database = own.database();
        History nothing = History.of(database).build();
        DatabaseFacts rules = new DatabaseFacts(database, nothing, fleet.holds(database.id()), fleet.closures());
        return Expected.of(rules, fleet.fleet(), Habits.of(database, nothing, span.from()), span.from(), span).stream()
                .map(e -> new Expected(e.slot(), e.schedule(), usual(own, e), e.store(), e.off()))
                .toList();
    }

    private static Optional<Usual> usual(WeekPart.WeekAhead own, Expected e) {
        return own.expected().stream()
                .filter(c -> c.slot().schedule().equals(e.slot().schedule()))
                .flatMap(c -> c.usual().stream())
                .max(Comparator.comparing(Usual::median));
    }
}
