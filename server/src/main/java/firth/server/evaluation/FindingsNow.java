package firth.server.evaluation;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Calendars;
import firth.core.findings.FactFindings;
import firth.core.findings.Finding;
import firth.core.findings.SourceLogsLeft;
import firth.core.findings.Together;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.exchange.ToldFindings;
import firth.server.platform.FactsHolder;
import firth.store.Lives;
import firth.store.Runners;
import firth.store.Snapshot;
import firth.wording.FindingWords;
import io.quarkus.arc.All;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What is wrong in the fleet, kept for as long as the answers it follows from. */
@ApplicationScoped
public class FindingsNow {

    /** Runs that ended so long ago are no longer news. */
    public static final Duration RECENTLY = Duration.ofHours(1);

    private final FactsHolder facts;
    private final Summaries summaries;
    private final ConditionPart conditionPart;
    private final PolicyFollowers following;
    private final Probes probes;
    private final List<HouseFindings> house;
    /** What was found in an answer, for as long as somebody holds that very answer. */
    private final Cache<Evaluation, List<Finding>> known =
            Caffeine.newBuilder().weakKeys().build();

    private final Together together = new Together();
    private final PolicyRules rules = new PolicyRules();
    private final KeptReadiness ready = new KeptReadiness();

    /** Of today. */
    private final AtomicReference<Calendars> calendars = new AtomicReference<>(Calendars.from(Instant.EPOCH));

    FindingsNow(
            FactsHolder facts,
            Summaries summaries,
            ConditionPart conditionPart,
            PolicyFollowers following,
            Probes probes,
            @All List<HouseFindings> house) {
        this.facts = facts;
        this.summaries = summaries;
        this.conditionPart = conditionPart;
        this.house = house;
        this.following = following;
        this.probes = probes;
    }

    /** What is wrong with one database by itself, in order. */
    public List<Finding> of(Evaluations.Fleetwide all, Evaluation answer) {
        return known.get(answer, a -> ofAll(all, a));
    }

    /** What of an answer it takes to say what is wrong with the fleet. */
    public Condition condition(FleetNow fleet, Evaluation e) {
        Evaluations.Fleetwide one = new Evaluations.Fleetwide(fleet, List.of(e));
        Instant recently = e.asOf().minus(RECENTLY);
        return new Condition(
                e.database(),
                e.version(),
                of(one, e),
                following.inCommon(one),
                e.firstBreak(),
                SourceLogsLeft.of(e),
                e.history().runs().stream()
                        .filter(r -> r.ended()
                                .filter(x -> x.isAfter(recently) && !x.isAfter(e.asOf()))
                                .isPresent())
                        .toList());
    }

    /** That of every database but standbys, kept while it stands. */
    public List<Condition> conditions(Lookout.View view) {
        return summaries.all(view, conditionPart).each();
    }

    /**
     * Everything that is wrong, one cause shared by many as one.
     *
     * @param clock what time it is where nobody looks back; absent: what was found out since is not known to have been so then
     */
    public List<Finding> all(FleetNow fleet, List<Condition> conditions, Instant asOf, Optional<Instant> clock) {
        // Whoever looks back sees other findings, and what is kept of the present stays.
        Calendars slots = clock.isPresent() ? calendars(asOf) : Calendars.from(asOf.truncatedTo(ChronoUnit.DAYS));
        List<Finding> besides =
                new ArrayList<>((clock.isPresent() ? rules : new PolicyRules()).of(conditions, asOf, slots));
        clock.ifPresent(now -> {
            besides.addAll(ofFacts(fleet, conditions, now));
            besides.addAll(ofRunners(conditions, now));
            besides.addAll(new StockNow(facts.store(), fleet).findings(now));
            house.forEach(h -> besides.addAll(h.findings(now)));
        });
        Map<String, List<Finding>> each = new HashMap<>();
        Map<String, String> names = new HashMap<>();
        for (Condition c : conditions) {
            each.put(c.database().id(), c.findings());
            names.put(c.database().id(), c.database().name());
        }
        return (clock.isPresent() ? together : new Together()).of(each, besides, names);
    }

    /** Everything that is wrong now, where the page stands. */
    public List<Finding> now(FleetNow fleet, List<Condition> conditions, Instant asOf, Instant clock) {
        return all(fleet, conditions, asOf, Optional.of(clock));
    }

    private List<Finding> ofAll(Evaluations.Fleetwide all, Evaluation e) {
        try (Snapshot snapshot = facts.store().read()) {
            List<String> members = all.fleet().standbys().membersOf(e.database().id());
            return ToldFindings.all(
                    e,
                    all.facts(e),
                    all.fleet().fleet(),
                    new StoredBackups(snapshot, members),
                    all.fleet().drills(e.database().id()));
        }
    }

    /** The slots of a policy are looked at from the beginning of the day on, so that they are gone through once a day and not for each question. */
    private Calendars calendars(Instant asOf) {
        Instant day = asOf.truncatedTo(ChronoUnit.DAYS);
        return calendars.updateAndGet(known -> known.from().equals(day) ? known : Calendars.from(day));
    }

    /** What was found out about readiness, and who no longer tells of anything. */
    private List<Finding> ofFacts(FleetNow fleet, List<Condition> conditions, Instant now) {
        List<Finding> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = probes.ofMany(snapshot, fleet.fleet(), now);
            for (Condition s : conditions) {
                if (s.version().filter(PolicyVersion::enabled).isPresent()) {
                    out.addAll(ready.of(fleet, s, probed, now));
                }
            }
            out.addAll(otherServers(fleet));
            List<String> everyone = PolicyRules.ids(conditions);
            for (Snapshot.Source source : snapshot.sources()) {
                source.newestFact()
                        .flatMap(f -> FactFindings.ofSource(source.name(), f, now, everyone))
                        .ifPresent(out::add);
            }
        }
        return out;
    }

    /** Servers seen where a database is backed up that are not the one that was enrolled, or go on as nobody stated. */
    private static List<Finding> otherServers(FleetNow fleet) {
        return fleet.sightings().stream()
                .filter(s -> s.identity().isPresent() || s.lineage().isPresent())
                .flatMap(s -> called(fleet, s.database()).stream()
                        .flatMap(d -> Stream.of(FactFindings.anotherServer(d, s), FactFindings.anotherLineage(d, s)))
                        .flatMap(Optional::stream))
                .toList();
    }

    /** The database of an id; of a name where it is no id, which is seldom asked. */
    private static Optional<Database> called(FleetNow fleet, String name) {
        return fleet.database(name)
                .or(() -> fleet.databases().values().stream()
                        .filter(d -> d.name().equals(name))
                        .findFirst());
    }

    /** How long a runner may take to note a version that came into force. */
    private static final Duration NOTING = Duration.ofMinutes(5);

    /** Runners that were heard once and are no more, and versions that have not reached them. */
    private List<Finding> ofRunners(List<Condition> conditions, Instant now) {
        List<Finding> out = new ArrayList<>();
        Map<String, List<Condition>> byHost = conditions.stream()
                .filter(s -> s.version().filter(PolicyVersion::enabled).isPresent())
                .filter(s -> s.database().particulars().host().isPresent())
                .collect(Collectors.groupingBy(
                        s -> s.database().particulars().host().orElseThrow()));
        for (Runners.Runner runner : facts.store().runners().all().values()) {
            List<Condition> own = byHost.getOrDefault(runner.host(), List.of());
            if (own.isEmpty()) {
                continue;
            }
            if (runner.isSilentAt(now)) {
                Optional<FactFindings.Breaks> next = own.stream()
                        .flatMap(s -> s
                                .breaks()
                                .map(at -> new FactFindings.Breaks(s.database().name(), at))
                                .stream())
                        .min(Comparator.comparing(FactFindings.Breaks::at));
                out.add(FactFindings.silent(
                        runner.host(),
                        runner.heard(),
                        runner.silentFrom(),
                        PolicyRules.ids(own),
                        next,
                        own.get(0).database().zone()));
                continue;
            }
            PolicyRules.byVersion(own).forEach(followers -> {
                PolicyVersion v = followers.get(0).version().orElseThrow();
                boolean noted =
                        Integer.valueOf(v.version()).equals(runner.versions().get(v.id()));
                if (!noted && v.effectiveFrom().plus(NOTING).isBefore(now)) {
                    out.add(FactFindings.notReached(
                            runner.host(), v.name(), v.version(), v.effectiveFrom(), PolicyRules.ids(followers)));
                }
            });
        }
        return out;
    }

    /** When each finding that was noted and has not gone was first seen, by its key. */
    public Map<String, Instant> seen() {
        return facts.store().lives().open().values().stream()
                .collect(Collectors.toMap(Lives.Life::key, Lives.Life::first));
    }

    /** Keeps in the record of life spans what is found now. */
    public void noted(List<Finding> found, Instant now) {
        facts.store()
                .lives()
                .note(
                        found.stream()
                                .map(f -> new Lives.Life(
                                        f.key(),
                                        now,
                                        Optional.empty(),
                                        f.severity().word(),
                                        String.join(",", f.databases()),
                                        FindingWords.of(f).title()))
                                .collect(Collectors.toMap(Lives.Life::key, Function.identity(), (one, other) -> one))
                                .values()
                                .stream()
                                .toList(),
                        now);
    }
}
