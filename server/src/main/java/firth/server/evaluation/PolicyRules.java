package firth.server.evaluation;

import firth.core.findings.Calendars;
import firth.core.findings.Finding;
import firth.core.findings.Followers;
import firth.core.findings.PolicyFindings;
import firth.core.model.PolicyVersion;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;

/** What contradicts itself in policies or does not fit those who follow them, kept of each for as long as its followers stay as they are. */
final class PolicyRules {

    private final Map<VersionName, Kept> known = new ConcurrentHashMap<>();

    /** Which version it is, whatever it says. */
    private record VersionName(String policy, int version) {}

    /** @param followers those it was found of: the very same, or it is found anew */
    private record Kept(PolicyVersion version, List<Condition> followers, Calendars slots, List<Finding> found) {

        boolean isOf(PolicyVersion now, List<Condition> own, Calendars from) {
            return Same.is(version, now) && Same.is(slots, from) && Same.each(followers, own);
        }
    }

    /** @param slots of the day; of another day nothing is kept for it */
    List<Finding> of(List<Condition> conditions, Instant asOf, Calendars slots) {
        List<Finding> out = new ArrayList<>();
        for (List<Condition> own : byVersion(conditions.stream()
                .filter(s -> s.version().isPresent() && s.database().isServedAt(asOf))
                .toList())) {
            PolicyVersion version = own.get(0).version().orElseThrow();
            VersionName name = new VersionName(version.id(), version.version());
            Kept kept = known.get(name);
            if (kept == null || !kept.isOf(version, own, slots)) {
                Followers common =
                        Followers.together(own.stream().map(Condition::habits).toList());
                kept = new Kept(version, own, slots, PolicyFindings.of(version, common, ids(own), slots));
                known.put(name, kept);
            }
            out.addAll(kept.found);
        }
        return out;
    }

    /** Those that follow one version together; all follow one. */
    static Collection<List<Condition>> byVersion(List<Condition> conditions) {
        return conditions.stream()
                .collect(Collectors.groupingBy(s -> s.version()
                        .map(v -> new VersionName(v.id(), v.version()))
                        .orElseThrow()))
                .values();
    }

    static List<String> ids(List<Condition> conditions) {
        return conditions.stream().map(s -> s.database().id()).toList();
    }
}
