package firth.core.model;

import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * One version of a policy: what is promised, scheduled and retained from {@code effectiveFrom} on.
 *
 * @param withdrawn when it was withdrawn, not after {@code effectiveFrom}: such a version never comes into force
 */
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
        CopiesRule copies,
        Demands demands,
        Taking taking,
        Optional<Instant> withdrawn)
        implements FleetRecord {

    public PolicyVersion {
        schedules = List.copyOf(schedules);
        openHours = List.copyOf(openHours);
        retain = List.copyOf(retain);
    }

    /** One that demands nothing of its backups. */
    public PolicyVersion(
            String id,
            int version,
            Instant effectiveFrom,
            String name,
            boolean enabled,
            Objective objective,
            List<Schedule> schedules,
            List<OpenHours> openHours,
            List<RetainRule> retain,
            CopiesRule copies) {
        this(id, version, effectiveFrom, name, enabled, objective, schedules, openHours, retain, copies, Demands.NONE);
    }

    /** One that says nothing of how backups are taken. */
    public PolicyVersion(
            String id,
            int version,
            Instant effectiveFrom,
            String name,
            boolean enabled,
            Objective objective,
            List<Schedule> schedules,
            List<OpenHours> openHours,
            List<RetainRule> retain,
            CopiesRule copies,
            Demands demands) {
        this(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                schedules,
                openHours,
                retain,
                copies,
                demands,
                Taking.NONE);
    }

    /** One that stands. */
    public PolicyVersion(
            String id,
            int version,
            Instant effectiveFrom,
            String name,
            boolean enabled,
            Objective objective,
            List<Schedule> schedules,
            List<OpenHours> openHours,
            List<RetainRule> retain,
            CopiesRule copies,
            Demands demands,
            Taking taking) {
        this(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                schedules,
                openHours,
                retain,
                copies,
                demands,
                taking,
                Optional.empty());
    }

    @Override
    public String type() {
        return "policy";
    }

    /** The same rules, in force from another moment. */
    public PolicyVersion from(Instant moment) {
        return new PolicyVersion(
                id, version, moment, name, enabled, objective, schedules, openHours, retain, copies, demands, taking);
    }

    public PolicyVersion with(boolean switchedOn) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                switchedOn,
                objective,
                schedules,
                openHours,
                retain,
                copies,
                demands,
                taking);
    }

    public PolicyVersion with(Objective promised) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                promised,
                schedules,
                openHours,
                retain,
                copies,
                demands,
                taking);
    }

    public PolicyVersion withSchedules(List<Schedule> others) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                others,
                openHours,
                retain,
                copies,
                demands,
                taking);
    }

    public PolicyVersion withRetain(List<RetainRule> rules) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                schedules,
                openHours,
                rules,
                copies,
                demands,
                taking);
    }

    public PolicyVersion withOpenHours(List<OpenHours> hours) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                schedules,
                hours,
                retain,
                copies,
                demands,
                taking);
    }

    public PolicyVersion with(CopiesRule rule) {
        return new PolicyVersion(
                id,
                version,
                effectiveFrom,
                name,
                enabled,
                objective,
                schedules,
                openHours,
                retain,
                rule,
                demands,
                taking);
    }

    /** Whether what is backed up and retained is the same as under another, whatever is promised. */
    public boolean takesUpAsMuchAs(PolicyVersion other) {
        return schedules.equals(other.schedules) && retainsAsMuchAs(other);
    }

    /** Whether what is retained is the same as under another. */
    public boolean retainsAsMuchAs(PolicyVersion other) {
        return enabled == other.enabled && retain.equals(other.retain) && copies.equals(other.copies);
    }

    /** What follows what, the config backups that are demanded after data backups among it; nothing in a policy that is switched off. */
    public List<Then> follows() {
        if (!enabled) {
            return List.of();
        }
        Stream<Then> config = demands.configAfterData().stream()
                .map(d -> new Then(EnumSet.of(Kind.FULL, Kind.DIFF, Kind.INCR), Kind.CONFIG, d));
        return Stream.concat(config, taking.then().stream()).toList();
    }

    /** The schedules that are switched on, in a policy that is. */
    public List<Schedule> live() {
        return enabled ? schedules.stream().filter(Schedule::enabled).toList() : List.of();
    }
}
