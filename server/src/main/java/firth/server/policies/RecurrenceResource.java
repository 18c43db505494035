package firth.server.policies;

import firth.core.time.Recurrence;
import firth.exchange.WrittenRecurrence;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.zone.ZoneOffsetTransition;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** When a recurrence falls, before anybody relies on it. */
@Path("/api/recurrence")
@RolesAllowed(Roles.VIEWER)
public class RecurrenceResource {

    private static final int SHOWN = 10;
    private static final Duration AHEAD = Duration.ofDays(800);
    private static final Duration AROUND = Duration.ofDays(2);

    private final Lookout lookout;

    RecurrenceResource(Lookout lookout) {
        this.lookout = lookout;
    }

    /**
     * The next openings, and those around the next change of the clock.
     *
     * @param rule an RFC 5545 rule or a five-field cron line
     * @param zones IANA zones, separated by commas
     * @param anchor the date a rule begins at and counts its intervals from; absent: today
     */
    @GET
    public Policies.Occurrences next(
            @QueryParam("rule") @Nullable String rule,
            @QueryParam("zones") @Nullable String zones,
            @QueryParam("anchor") @Nullable String anchor) {
        Optional<LocalDate> from = date(anchor);
        Recurrence recurrence;
        try {
            recurrence = WrittenRecurrence.read(rule == null ? "" : rule);
        } catch (IllegalArgumentException e) {
            return new Policies.Occurrences(e.getMessage(), List.of());
        }
        return new Policies.Occurrences(
                null,
                Arrays.stream((zones == null || zones.isBlank() ? "UTC" : zones).split(","))
                        .map(RecurrenceResource::zone)
                        .map(zone -> zoned(recurrence, zone, lookout.now(), from))
                        .toList());
    }

    private static Optional<LocalDate> date(@Nullable String written) {
        try {
            return Optional.ofNullable(written).filter(w -> !w.isBlank()).map(LocalDate::parse);
        } catch (DateTimeException e) {
            throw new BadRequest("anchor", "is not a date such as 2026-01-05");
        }
    }

    private static ZoneId zone(String id) {
        try {
            return ZoneId.of(id.strip());
        } catch (DateTimeException e) {
            throw new BadRequest("zones", "contains something that is not an IANA time zone: " + id);
        }
    }

    private static Policies.Zoned zoned(Recurrence recurrence, ZoneId zone, Instant now, Optional<LocalDate> anchor) {
        LocalDate start = anchor.orElseGet(() -> now.atZone(zone).toLocalDate());
        ZoneOffsetTransition change = zone.getRules().nextTransition(now);
        Instant at = change == null || change.getInstant().isAfter(now.plus(AHEAD)) ? null : change.getInstant();
        return new Policies.Zoned(
                zone.getId(),
                recurrence.between(start, zone, now, now.plus(AHEAD)).stream()
                        .limit(SHOWN)
                        .toList(),
                at,
                at == null ? List.of() : recurrence.between(start, zone, at.minus(AROUND), at.plus(AROUND)));
    }
}
