package firth.core.findings;

import firth.core.findings.Finding.Severity;
import firth.core.model.PolicyVersion;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Rules that contradict themselves or those who follow them, as findings: one for all the followers. */
public final class PolicyFindings {

    private PolicyFindings() {}

    /**
     * What does not fit in a policy.
     *
     * @param followers the ids of the databases that follow it; without any there is nobody it befalls
     */
    public static List<Finding> of(PolicyVersion version, Followers followers, List<String> ids, Instant asOf) {
        if (ids.isEmpty() || !version.enabled()) {
            return List.of();
        }
        return PolicyFlaws.of(version, followers, asOf).stream()
                .map(flaw -> of(version, flaw, ids))
                .toList();
    }

    private static Finding of(PolicyVersion version, PolicyFlaw flaw, List<String> ids) {
        String action = flaw.waysOut().stream()
                .findFirst()
                .map(c -> "The smallest change that ends it: " + value(c) + ".")
                .orElse("No single change ends it.");
        return new Finding(
                flaw.code(),
                Severity.CONTRADICTION,
                "policy:" + version.id() + "/" + flaw.path(),
                ids,
                Optional.of(version.effectiveFrom()),
                version.name() + " contradicts itself",
                flaw.text(),
                action,
                List.of(),
                List.of(version.id()));
    }

    /** What a value is called, by the last part of its path. */
    private static final Map<String, String> NAMES = Map.ofEntries(
            Map.entry("mishap", "losing at most"),
            Map.entry("siteLoss", "losing at most, with the site,"),
            Map.entry("sabotage", "losing at most, to sabotage,"),
            Map.entry("reach", "a reach of"),
            Map.entry("lock", "a lock of"),
            Map.entry("atMost", "keeping at most"),
            Map.entry("within", "a start window of"),
            Map.entry("grace", "a grace of"),
            Map.entry("every", "logs every"));

    private static String value(PolicyChange c) {
        String last = c.path().substring(c.path().lastIndexOf('.') + 1);
        String what = NAMES.getOrDefault(
                last, c.path().replace('.', ' ').replace("+", "").strip());
        return c.from().isEmpty()
                ? "add " + words(c.to()) + " (" + what + ")"
                : c.to().isEmpty()
                        ? "leave out " + what
                        : what + " " + words(c.to()) + " instead of " + words(c.from());
    }

    /** A value as it is said: durations in words, everything else as it is written. */
    private static String words(String value) {
        try {
            return Wording.duration(Duration.parse(value));
        } catch (DateTimeParseException e) {
            return value;
        }
    }
}
