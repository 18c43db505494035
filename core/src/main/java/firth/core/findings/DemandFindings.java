package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.model.Backup;
import firth.core.model.Demands;
import firth.core.model.Demands.Demand;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Traits;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Backups that are not what the policy demands of every one (docs/semantics.md, "Findings"). */
public final class DemandFindings {

    private DemandFindings() {}

    /** A backup and what was said of it that decides nothing it restores. */
    public record Described(Backup backup, Traits traits) {}

    /**
     * What the newest of each kind are not.
     *
     * @param newest of each kind the one that ended last by the moment of the evaluation
     */
    public static List<Finding> of(Evaluation e, List<Described> newest) {
        Optional<PolicyVersion> version = e.version().filter(PolicyVersion::enabled);
        Demands demands = version.map(PolicyVersion::demands).orElse(Demands.NONE);
        Map<Demand, List<Described>> broken = new EnumMap<>(Demand.class);
        for (Described told : newest) {
            Backup b = told.backup();
            if (b.kind() != Kind.CONFIG) {
                demands.broken(
                                told.traits(),
                                b.kind().isData(),
                                b.ended(),
                                b.verified(),
                                b.bestKnown(e.asOf()),
                                e.asOf())
                        .forEach(d -> broken.computeIfAbsent(d, x -> new ArrayList<>())
                                .add(told));
            }
        }
        List<Finding> out = new ArrayList<>();
        broken.forEach((demand, those) -> out.add(
                switch (demand) {
                    case VERIFIED -> unverified(e, demands, those);
                    case EVIDENCE -> littleKnown(e, demands, those, version.get());
                    default -> broken(e, demand, those, version.get());
                }));
        return out;
    }

    private static Finding littleKnown(Evaluation e, Demands demands, List<Described> those, PolicyVersion version) {
        return finding(
                e,
                "little-known",
                Severity.RULE_BROKEN,
                those,
                those.stream()
                        .map(t -> t.backup().ended().plus(demands.evidenceWithin()))
                        .min(Instant::compareTo)
                        .orElseThrow(),
                new Detail.LittleKnown(
                        demands.evidence(),
                        those.stream()
                                .map(t -> t.backup().bestKnown(e.asOf()))
                                .reduce(Evidence::weaker)
                                .orElse(Evidence.TOLD),
                        kinds(those),
                        ids(those),
                        version.name()));
    }

    private static Finding broken(Evaluation e, Demand demand, List<Described> those, PolicyVersion version) {
        return finding(
                e,
                "not-" + demand.word(),
                Severity.RULE_BROKEN,
                those,
                those.stream()
                        .map(t -> t.backup().ended())
                        .min(Instant::compareTo)
                        .orElseThrow(),
                new Detail.NotAsDemanded(demand, kinds(those), ids(those), version.name()));
    }

    private static Finding unverified(Evaluation e, Demands demands, List<Described> those) {
        Duration within = demands.verifiedWithin().orElseThrow();
        return finding(
                e,
                "unverified",
                Severity.UNPROVEN,
                those,
                those.stream()
                        .map(t -> t.backup().ended().plus(within))
                        .min(Instant::compareTo)
                        .orElseThrow(),
                new Detail.Unverified(within, kinds(those), ids(those)));
    }

    private static Finding finding(
            Evaluation e, String code, Severity severity, List<Described> those, Instant since, Detail detail) {
        return Finding.of(
                code,
                severity,
                e.database().id(),
                e.database().id(),
                Optional.of(since),
                detail,
                those.stream().map(t -> t.backup().id()).toList());
    }

    private static List<Kind> kinds(List<Described> those) {
        return those.stream().map(t -> t.backup().kind()).distinct().toList();
    }

    private static List<String> ids(List<Described> those) {
        return those.stream().map(t -> t.backup().id()).toList();
    }
}
