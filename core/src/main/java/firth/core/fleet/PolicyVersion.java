package firth.core.fleet;

import java.time.Instant;
import java.util.List;

/** One version of a policy: what is promised, scheduled and retained from {@code effectiveFrom} on. */
public record PolicyVersion(
        String id,
        int version,
        Instant effectiveFrom,
        String name,
        boolean enabled,
        Objective objective,
        List<Schedule> schedules,
        List<OpenHours> openHours,
        List<RetainRule> retain,
        CopiesRule copies)
        implements FleetRecord {

    public PolicyVersion {
        schedules = List.copyOf(schedules);
        openHours = List.copyOf(openHours);
        retain = List.copyOf(retain);
    }
}
