package firth.exchange;

import java.io.IOException;
import java.io.InputStream;
import java.time.ZoneId;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.component.CalendarComponent;
import net.fortuna.ical4j.model.component.VTimeZone;

/** What a calendar must say of a time zone it names (RFC 5545, 3.6.5): as the library that writes it has it, nothing is fetched. */
final class Zones {

    private static final Map<ZoneId, VTimeZone> KNOWN = new ConcurrentHashMap<>();

    private Zones() {}

    /** Whether something is known of a zone. */
    static boolean isKnown(ZoneId zone) {
        return VTimeZone.class.getResource(file(zone)) != null;
    }

    /** @throws IllegalArgumentException where nothing is known of it */
    static CalendarComponent component(ZoneId zone) {
        return KNOWN.computeIfAbsent(zone, Zones::read);
    }

    private static String file(ZoneId zone) {
        return "/zoneinfo/" + zone.getId() + ".ics";
    }

    private static VTimeZone read(ZoneId zone) {
        try (InputStream in = VTimeZone.class.getResourceAsStream(file(zone))) {
            if (in == null) {
                throw new IllegalArgumentException("Nothing is known of the zone " + zone);
            }
            return new CalendarBuilder()
                    .build(in)
                    .<VTimeZone>getComponent("VTIMEZONE")
                    .orElseThrow();
        } catch (IOException | ParserException e) {
            throw new IllegalStateException("The zone " + zone + " cannot be read", e);
        }
    }
}
