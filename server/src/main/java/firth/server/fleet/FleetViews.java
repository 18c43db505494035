package firth.server.fleet;

import firth.core.findings.Check;
import firth.core.findings.Check.State;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.NearMiss;
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.model.Sighting;
import firth.core.model.StandingRule;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.ProbedNow;
import firth.server.evaluation.Probes;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.server.platform.NotFound;
import firth.server.platform.SearchWords;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The fleet as a list to be kept: each database with what it follows and lacks, and what nobody enrolled. */
@ApplicationScoped
class FleetViews {

    /** What needs somebody, the most urgent first. */
    private static final List<String> URGENT = List.of("clone", "unknown-policy", "no-policy", "two-rules");

    /** So many names that stand in no list are given. */
    private static final int UNENROLLED = 100;

    private static final int NAMED = 20;

    /** So many of those that use a route are named. */
    private static final int TAKERS = 20;

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

    /**
     * The databases somebody asks for.
     *
     * @param words in what is known of them
     * @param retired whether retired ones are among them
     */
    FleetView fleet(SearchWords words, boolean retired, ListPart stretch) {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            ProbedNow probed = probes.ofMany(snapshot, fleet.fleet(), now);
            List<FleetView.FleetRow> found = fleet.databases().values().stream()
                    .filter(d -> retired || !d.retiredAt(now))
                    .map(d -> row(fleet, probed, d, now))
                    .filter(r -> words.areIn(texts(r)))
                    .sorted(Comparator.comparingInt(FleetViews::urgency)
                            .thenComparing(FleetView.FleetRow::name, String.CASE_INSENSITIVE_ORDER)
                            .thenComparing(FleetView.FleetRow::id))
                    .toList();
            List<FleetView.Unenrolled> unenrolled =
                    unenrolled(fleet, snapshot.changes().keySet());
            return new FleetView(
                    now,
                    fleet.databases().size(),
                    found.size(),
                    stretch.of(found),
                    unenrolled.stream().limit(UNENROLLED).toList(),
                    unenrolled.size());
        }
    }

    private static int urgency(FleetView.FleetRow row) {
        return row.attention().stream().mapToInt(URGENT::indexOf).min().orElse(URGENT.size());
    }

    private static Stream<@Nullable String> texts(FleetView.FleetRow r) {
        return Stream.concat(
                Stream.of(
                        r.name(),
                        r.id(),
                        r.engine(),
                        r.site(),
                        r.host(),
                        r.system(),
                        r.owner(),
                        r.policy() == null ? "no policy" : r.policy(),
                        r.route(),
                        r.zone(),
                        words(r.readiness())),
                r.labels().entrySet().stream().map(l -> l.getKey() + "=" + l.getValue()));
    }

    /** As the page says it. */
    private static String words(FleetView.ReadySummary ready) {
        return switch (ready.state()) {
            case "not-ready" -> ready.lacking() + (ready.lacking() == 1 ? " thing lacking" : " things lacking");
            case "unknown" -> ready.unknown() + " unknown";
            case "waiting" -> "awaits a restart";
            default -> "ready";
        };
    }

    /** A few databases whose name or id holds some words, by name; the one of that very id first. */
    List<FleetView.NamedDatabase> named(@Nullable String text) {
        SearchWords words = SearchWords.of(text);
        Instant now = lookout.now();
        FleetNow fleet = evaluations.fleetNow();
        return fleet.databases().values().stream()
                .filter(d -> !d.retiredAt(now) && !fleet.standbys().isStandby(d.id()))
                .filter(d -> words.areIn(Stream.of(d.name(), d.id())))
                .sorted(Comparator.comparing((Database d) -> !d.id().equals(text))
                        .thenComparing(Database::name, String.CASE_INSENSITIVE_ORDER)
                        .thenComparing(Database::id))
                .limit(NAMED)
                .map(d -> new FleetView.NamedDatabase(d.id(), d.name()))
                .toList();
    }

    /** What databases can be given and told apart by. */
    FleetChoices choices() {
        Instant now = lookout.now();
        FleetNow fleet = evaluations.fleetNow();
        List<Database> served = fleet.databases().values().stream()
                .filter(d -> !d.retiredAt(now))
                .toList();
        return new FleetChoices(
                fleet.fleet().policies().stream()
                        .sorted()
                        .map(p -> new FleetView.NamedDatabase(p, policyName(fleet, p, now)))
                        .toList(),
                fleet.routes().stream()
                        .filter(r -> r.retired().isEmpty())
                        .map(r -> route(r, served))
                        .toList(),
                byName(fleet.fleet().stores().stream()
                        .filter(s -> s.retired().isEmpty())
                        .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))),
                byName(fleet.sites().values().stream()
                        .filter(s -> s.retired().isEmpty())
                        .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))),
                served.stream()
                        .flatMap(d -> d.particulars().owner().stream())
                        .distinct()
                        .sorted()
                        .toList(),
                served.stream()
                        .flatMap(d -> d.particulars().labels().entrySet().stream())
                        .map(l -> l.getKey() + "=" + l.getValue())
                        .distinct()
                        .sorted()
                        .toList(),
                fleet.standing().stream()
                        .sorted(Comparator.comparingInt(StandingRule::order))
                        .map(FleetViews::standing)
                        .toList());
    }

    private static List<FleetView.NamedDatabase> byName(Stream<FleetView.NamedDatabase> all) {
        return all.sorted(Comparator.comparing(FleetView.NamedDatabase::name)).toList();
    }

    private static FleetChoices.RouteView route(Route r, List<Database> served) {
        List<String> takers = served.stream()
                .filter(d -> d.particulars().route().filter(r.id()::equals).isPresent())
                .map(Database::name)
                .sorted()
                .toList();
        return new FleetChoices.RouteView(
                r.id(),
                r.name(),
                r.data(),
                r.log(),
                r.copies(),
                takers.stream().limit(TAKERS).toList(),
                takers.size());
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
                .flatMap(d -> Stream.of(d.id(), d.name()))
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

    private static FleetChoices.Standing standing(StandingRule r) {
        return new FleetChoices.Standing(
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
