package firth.server.fleet;

import firth.core.findings.Check;
import firth.core.findings.Check.State;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.NearMiss;
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.Sighting;
import firth.core.model.StandingRule;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.ProbedNow;
import firth.server.evaluation.Probes;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The fleet as a list to be kept: each database with what it follows and lacks, and what nobody enrolled. */
@ApplicationScoped
class FleetViews {

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Probes probes;
    private final Lookout lookout;

    FleetViews(FactsHolder facts, Lookout lookout, Probes probes, Evaluations evaluations) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.probes = probes;
        this.lookout = lookout;
    }

    FleetView fleet() {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            ProbedNow probed = probes.ofMany(snapshot, fleet.fleet(), now);
            return new FleetView(
                    now,
                    fleet.databases().values().stream()
                            .map(d -> row(fleet, probed, d, now))
                            .toList(),
                    unenrolled(fleet, snapshot.changes().keySet()),
                    fleet.fleet().policies().stream()
                            .sorted()
                            .map(p -> new FleetView.NamedDatabase(p, policyName(fleet, p, now)))
                            .toList(),
                    fleet.routes().stream()
                            .map(r -> new FleetView.RouteView(r.id(), r.name(), r.data(), r.log(), r.copies()))
                            .toList(),
                    fleet.fleet().stores().stream()
                            .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))
                            .sorted((a, b) -> a.name().compareTo(b.name()))
                            .toList(),
                    fleet.sites().values().stream()
                            .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))
                            .sorted((a, b) -> a.name().compareTo(b.name()))
                            .toList(),
                    fleet.standing().stream()
                            .sorted((a, b) -> Integer.compare(a.order(), b.order()))
                            .map(FleetViews::standing)
                            .toList());
        }
    }

    static String policyName(FleetNow fleet, String policy, Instant now) {
        return fleet.fleet()
                .versionAt(policy, now)
                .map(PolicyVersion::name)
                .orElse(fleet.fleet().versions(policy).get(0).name());
    }

    private static FleetView.FleetRow row(FleetNow fleet, ProbedNow probed, Database d, Instant now) {
        Particulars known = d.particulars();
        List<StandingRule> rules = StandingRule.of(d, fleet.standing());
        Optional<Sighting> clone = clone(fleet, d);
        return new FleetView.FleetRow(
                d.id(),
                d.name(),
                d.engine().orElse(""),
                fleet.siteName(d.site()),
                known.host().orElse(""),
                known.system().orElse(""),
                d.zone().getId(),
                known.owner().orElse(""),
                known.identity().orElse(""),
                known.labels(),
                d.policyAt(now).orElse(null),
                known.route().orElse(null),
                known.standbyOf().orElse(null),
                d.inServiceFrom(),
                known.retired().orElse(null),
                d.clock().stopped().contains(now.toEpochMilli()),
                attention(fleet, d, now, rules, clone),
                rules.stream().map(StandingRule::id).toList(),
                clone.map(FleetViews::seen).orElse(null),
                summary(probed.checks(d)));
    }

    private static FleetView.ReadySummary summary(List<Check> checks) {
        return new FleetView.ReadySummary(
                Readiness.worst(checks).word(), count(checks, State.NOT_READY), count(checks, State.UNKNOWN));
    }

    private static int count(List<Check> checks, State state) {
        return (int) checks.stream().filter(c -> c.state() == state).count();
    }

    /** Whether a database is fit for its schedules to be trusted, fact by fact. */
    FleetView.ReadyView readiness(String id) {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            Database database = fleet.database(id).orElseThrow(() -> new NotFound("There is no database " + id + "."));
            List<Check> checks = probes.ofFew(snapshot, fleet.fleet(), now).checks(database);
            return new FleetView.ReadyView(
                    id,
                    database.name(),
                    now,
                    Readiness.worst(checks).word(),
                    checks.stream()
                            .map(c -> new FleetView.CheckView(
                                    c.item().word(),
                                    c.state().word(),
                                    ReadinessWords.of(c),
                                    c.source().orElse(null),
                                    c.at().orElse(null)))
                            .toList());
        }
    }

    private static List<String> attention(
            FleetNow fleet, Database d, Instant now, List<StandingRule> rules, Optional<Sighting> clone) {
        List<String> out = new ArrayList<>();
        if (d.retiredAt(now)) {
            return out;
        }
        Optional<String> policy = d.policyAt(now);
        boolean asked = !fleet.standbys().isStandby(d.id());
        if (asked && policy.isEmpty()) {
            out.add("no-policy");
        } else if (asked && fleet.fleet().versions(policy.get()).isEmpty()) {
            out.add("unknown-policy");
        }
        if (divided(rules)) {
            out.add("two-rules");
        }
        if (clone.isPresent()) {
            out.add("clone");
        }
        return out;
    }

    static boolean divided(List<StandingRule> rules) {
        return rules.stream()
                        .map(StandingRule::policy)
                        .flatMap(Optional::stream)
                        .distinct()
                        .count()
                > 1;
    }

    /** Another that was seen under a database's name: the engine calls itself something else there. */
    private static Optional<Sighting> clone(FleetNow fleet, Database d) {
        Optional<String> own = d.particulars().identity();
        return fleet.sightings().stream()
                .filter(s -> s.database().equals(d.name()) || s.database().equals(d.id()))
                .filter(s -> own.isPresent()
                        && s.identity().filter(i -> !i.equals(own.get())).isPresent())
                .findFirst();
    }

    private static FleetView.Seen seen(Sighting s) {
        return new FleetView.Seen(s.host().orElse(""), s.identity().orElse(""), s.seen());
    }

    private static List<FleetView.Unenrolled> unenrolled(FleetNow fleet, Set<String> reported) {
        Set<String> known = fleet.databases().values().stream()
                .flatMap(d -> java.util.stream.Stream.of(d.id(), d.name()))
                .collect(Collectors.toSet());
        List<FleetView.Unenrolled> out = new ArrayList<>();
        for (Sighting s : fleet.sightings()) {
            if (!known.contains(s.database())) {
                out.add(new FleetView.Unenrolled(
                        s.database(),
                        s.engine().orElse(""),
                        reported.contains(s.database()),
                        near(known, s.database()),
                        seen(s)));
            }
        }
        Set<String> named = out.stream().map(FleetView.Unenrolled::name).collect(Collectors.toSet());
        reported.stream()
                .filter(id -> !id.isEmpty() && !known.contains(id) && !named.contains(id))
                .sorted()
                .forEach(id -> out.add(new FleetView.Unenrolled(id, "", true, near(known, id), null)));
        return out;
    }

    private static @Nullable String near(Set<String> known, String name) {
        return known.stream()
                .filter(k -> NearMiss.between(k, name))
                .sorted()
                .findFirst()
                .orElse(null);
    }

    private static FleetView.Standing standing(StandingRule r) {
        return new FleetView.Standing(
                r.id(),
                r.order(),
                r.labels(),
                r.engine().orElse(null),
                r.site().orElse(null),
                r.system().orElse(null),
                r.name().orElse(null),
                r.policy().orElse(null),
                r.route().orElse(null),
                r.enabled());
    }
}
