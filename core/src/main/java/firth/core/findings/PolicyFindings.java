package firth.core.findings;

import firth.core.findings.Finding.Severity;
import firth.core.model.PolicyVersion;
import java.util.List;
import java.util.Optional;

/** Rules that contradict themselves or those who follow them, as findings: one for all the followers. */
public final class PolicyFindings {

    private PolicyFindings() {}

    /**
     * What does not fit in a policy.
     *
     * @param from of the moment from which on its slots are looked at
     * @param followers the ids of the databases that follow it; without any there is nobody it befalls
     */
    public static List<Finding> of(PolicyVersion version, Followers followers, List<String> ids, Calendars from) {
        if (ids.isEmpty() || !version.enabled()) {
            return List.of();
        }
        return PolicyFlaws.of(version, followers, from).stream()
                .map(flaw -> of(version, flaw, ids))
                .toList();
    }

    private static Finding of(PolicyVersion version, PolicyFlaw flaw, List<String> ids) {
        return new Finding(
                flaw.code(),
                Severity.CONTRADICTION,
                "policy:" + version.id() + "/" + flaw.path(),
                ids,
                Optional.of(version.effectiveFrom()),
                new Detail.PolicyContradicts(version.name(), flaw),
                List.of(),
                List.of(version.id()));
    }
}
