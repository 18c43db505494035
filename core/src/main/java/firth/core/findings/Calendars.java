package firth.core.findings;

import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * When slots of policies open from a moment on. What was worked out for one policy is kept for the next question about it, so
 * whoever asks again and again keeps one of these. Safe for use by several threads.
 */
public final class Calendars {

    private final Instant from;
    private final Map<ZoneId, Calendar> byZone = new ConcurrentHashMap<>();

    private Calendars(Instant from) {
        this.from = from;
    }

    /** Those of slots that open at a moment or later. */
    public static Calendars from(Instant from) {
        return new Calendars(from);
    }

    /** The moment from which on slots are looked at. */
    public Instant from() {
        return from;
    }

    Calendar in(ZoneId zone) {
        return byZone.computeIfAbsent(zone, z -> new Calendar(from, z));
    }
}
