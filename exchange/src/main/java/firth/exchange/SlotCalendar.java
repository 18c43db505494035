package firth.exchange;

import firth.core.forecast.Expected;
import firth.core.model.Closure;
import firth.core.model.Database;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Categories;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Status;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableCalScale;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/**
 * Slots to come as an iCalendar feed (RFC 5545): an event a slot, from its opening to the close of its start window, in UTC, so
 * that changes of the clocks are those Firth itself goes by; closures too.
 */
public final class SlotCalendar {

    private SlotCalendar() {}

    /** @param made when the feed was made */
    public static String of(Map<Database, List<Expected>> expected, List<Closure> closures, Instant made) {
        Calendar calendar = new Calendar();
        calendar.add(new ProdId("-//Firth//Slots//EN"));
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(ImmutableCalScale.GREGORIAN);
        expected.forEach((database, slots) ->
                slots.stream().filter(Expected::runs).forEach(e -> calendar.add(event(database, e, made))));
        closures.forEach(c -> calendar.add(closure(c, made)));
        return calendar.toString();
    }

    private static VEvent event(Database database, Expected e, Instant made) {
        VEvent event =
                new VEvent(e.slot().open(), e.slot().close(), e.slot().kind().word() + " of " + database.name());
        stamp(event, made);
        event.add(new Uid(
                database.id() + "/" + e.slot().schedule() + "/" + e.slot().open() + "@firth"));
        event.add(new Categories(e.slot().policy()));
        event.add(new Description(
                "Schedule " + e.slot().schedule() + " of policy " + e.slot().policy() + ", version "
                        + e.slot().version() + "; may start until " + e.slot().close()
                        + (e.schedule().mustFinish() ? " and must be finished by then" : "")
                        + e.usual()
                                .map(u -> "; usually takes " + minutes(u.median()) + " min")
                                .orElse("")));
        return event;
    }

    private static VEvent closure(Closure c, Instant made) {
        VEvent event = new VEvent(c.span().from(), c.span().to(), "closure: " + c.reason());
        stamp(event, made);
        event.add(new Uid("closure/" + c.id() + "@firth"));
        event.add(new Status("CONFIRMED"));
        return event;
    }

    private static void stamp(VEvent event, Instant made) {
        event.removeAll("DTSTAMP");
        event.add(new DtStamp(made));
    }

    private static long minutes(Duration d) {
        return Math.max(1, Math.round(d.toSeconds() / 60.0));
    }
}
