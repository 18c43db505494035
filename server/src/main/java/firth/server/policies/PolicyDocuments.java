package firth.server.policies;

import java.util.List;
import java.util.Map;

/** A policy as the exchange format writes it. Durations are ISO 8601, instants RFC 3339. */
public final class PolicyDocuments {

    private PolicyDocuments() {}

    public record WrittenDocument(
            String type,
            String id,
            Integer version,
            String effectiveFrom,
            String name,
            Boolean enabled,
            ObjectiveDocument objective,
            List<ScheduleDocument> schedules,
            List<OpenHoursDocument> openHours,
            List<RetainDocument> retain,
            CopiesDocument copies,
            DemandsDocument demands,
            List<RateLimitDocument> rateLimits,
            SourceLogsDocument sourceLogs,
            List<String> order,
            List<ThenDocument> then,
            Integer purgeApprovals,
            PutInForceDocument putInForce,
            WithdrawnDocument withdrawn) {}

    /** Who withdrew a version before it took effect, when and why. */
    public record WithdrawnDocument(String by, String at, String why) {}

    public record ObjectiveDocument(
            String mishap, String siteLoss, String sabotage, String reach, String restoreTime, String drillEvery) {}

    public record ScheduleDocument(
            String id,
            String kind,
            String rrule,
            String cron,
            String every,
            String within,
            Boolean mustFinish,
            String grace,
            String anchor,
            Boolean enabled) {}

    public record OpenHoursDocument(List<String> days, String from, String to) {}

    public record RetainDocument(
            String role,
            String reach,
            Integer fulls,
            Boolean logs,
            Map<String, Integer> rungs,
            Integer configs,
            String atMost,
            String lock) {}

    public record CopiesDocument(Integer stores, Integer media, Integer offsite, Integer locked, String within) {}

    public record DemandsDocument(
            Boolean compressed,
            Boolean encrypted,
            Boolean checksummed,
            String verifiedWithin,
            String configAfterData,
            String evidence,
            String evidenceWithin) {}

    /** A rate limit, in the policy's hours and in hours of its own, into one store and from one host where they are named. */
    public record RateLimitDocument(
            Double bytesPerSecond,
            String hours,
            List<String> days,
            String from,
            String to,
            String store,
            String host) {}

    /** What is taken once a backup of one of some kinds has succeeded. */
    public record ThenDocument(List<String> after, String take, String within) {}

    public record SourceLogsDocument(String deletedBy, Integer afterCopies) {}

    public record PutInForceDocument(String by, String at, String why, String despite) {}
}
