package firth.server;

import firth.core.Evaluation;
import firth.core.findings.FactFindings;
import firth.core.findings.Finding;
import firth.core.findings.Findings;
import firth.core.findings.PolicyFindings;
import firth.core.fleet.Database;
import firth.core.fleet.PolicyVersion;
import firth.exchange.ToldFindings;
import firth.store.Lives;
import firth.store.Runners;
import firth.store.Snapshot;
import io.quarkus.arc.All;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What is wrong in the fleet, kept for as long as the answers it follows from. */
@ApplicationScoped
public class FindingsNow {

    private static final int KEPT = 600;

    private final FactsHolder facts;
    private final Following following;
    private final List<HouseFindings> house;
    private final Map<String, Known> known = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Known> eldest) {
            return size() > KEPT;
        }
    };

    private record Known(Evaluation answer, List<Finding> findings) {}

    FindingsNow(FactsHolder facts, Following following, @All List<HouseFindings> house) {
        this.facts = facts;
        this.house = house;
        this.following = following;
    }

    /** What is wrong with one database by itself, in order. */
    public List<Finding> of(Evaluations.Fleetwide all, Evaluation answer) {
        String id = answer.database().id();
        synchronized (known) {
            Known found = known.get(id);
            if (found != null && found.answer == answer) {
                return found.findings;
            }
        }
        List<Finding> findings = ofAll(all, answer);
        synchronized (known) {
            known.put(id, new Known(answer, findings));
        }
        return findings;
    }

    /**
     * Everything that is wrong, one cause shared by many as one.
     *
     * @param clock what time it is where nobody looks back; absent: what was found out since is not known to have been so then
     */
    List<Finding> all(Evaluations.Fleetwide all, Instant asOf, Optional<Instant> clock) {
        Map<String, List<Finding>> own = all.answers().parallelStream()
                .collect(Collectors.toConcurrentMap(e -> e.database().id(), e -> of(all, e)));
        List<Finding> each = new ArrayList<>(all.answers().stream()
                .flatMap(e -> own.get(e.database().id()).stream())
                .toList());
        each.addAll(ofPolicies(all, asOf));
        clock.ifPresent(now -> {
            each.addAll(ofFacts(all, own, now));
            each.addAll(ofRunners(all, now));
            each.addAll(new StockNow(facts.store(), all.fleet()).findings(now));
            house.forEach(h -> each.addAll(h.findings(now)));
        });
        Map<String, String> names = all.answers().stream()
                .map(Evaluation::database)
                .collect(Collectors.toMap(Database::id, Database::name));
        return Findings.together(each, names);
    }

    /** Everything that is wrong now. */
    public List<Finding> now(Evaluations.Fleetwide all, Instant asOf, Instant clock) {
        return all(all, asOf, Optional.of(clock));
    }

    /** Keeps in the record of life spans what is found now. */
    public void noted(List<Finding> found, Instant clock) {
        note(found, clock);
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

    private List<Finding> ofPolicies(Evaluations.Fleetwide all, Instant asOf) {
        Map<String, List<Evaluation>> followers = all.answers().stream()
                .filter(e -> e.version().isPresent() && !e.database().retiredAt(asOf))
                .collect(Collectors.groupingBy(
                        e -> e.version().map(PolicyVersion::id).orElse("")));
        List<Finding> out = new ArrayList<>();
        followers.forEach((policy, answers) -> {
            Evaluations.Fleetwide own = new Evaluations.Fleetwide(all.fleet(), answers);
            List<String> ids = answers.stream().map(e -> e.database().id()).toList();
            Optional<PolicyVersion> version = answers.get(0).version();
            version.ifPresent(v -> out.addAll(PolicyFindings.of(v, following.inCommon(own), ids, asOf)));
        });
        return out;
    }

    /** What was found out about readiness, and who no longer tells of anything. */
    private List<Finding> ofFacts(Evaluations.Fleetwide all, Map<String, List<Finding>> own, Instant now) {
        List<Finding> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = new ProbedNow(snapshot, all.fleet().fleet(), now);
            for (Evaluation e : all.answers()) {
                if (e.version().filter(PolicyVersion::enabled).isPresent()) {
                    out.addAll(FactFindings.ofReadiness(
                            e.database(),
                            probed.checks(e.database()),
                            own.get(e.database().id())));
                }
            }
            List<String> everyone =
                    all.answers().stream().map(e -> e.database().id()).toList();
            for (Snapshot.Source source : snapshot.sources()) {
                source.newestFact()
                        .flatMap(f -> FactFindings.ofSource(source.name(), f, now, everyone))
                        .ifPresent(out::add);
            }
        }
        return out;
    }

    /** How long a runner may take to note a version that came into force. */
    private static final Duration NOTING = Duration.ofMinutes(5);

    /** Runners that were heard once and are no more, and versions that have not reached them. */
    private List<Finding> ofRunners(Evaluations.Fleetwide all, Instant now) {
        List<Finding> out = new ArrayList<>();
        for (Runners.Runner runner : facts.store().runners().all().values()) {
            List<Evaluation> own = all.answers().stream()
                    .filter(e -> e.database()
                                    .particulars()
                                    .host()
                                    .filter(runner.host()::equals)
                                    .isPresent()
                            && e.version().filter(PolicyVersion::enabled).isPresent())
                    .toList();
            if (own.isEmpty()) {
                continue;
            }
            if (runner.isSilentAt(now)) {
                out.add(FactFindings.silent(runner.host(), runner.heard(), runner.silentFrom(), ids(own)));
                continue;
            }
            Map<PolicyVersion, List<Evaluation>> served =
                    own.stream().collect(Collectors.groupingBy(e -> e.version().orElseThrow()));
            served.forEach((v, followers) -> {
                boolean noted =
                        Integer.valueOf(v.version()).equals(runner.versions().get(v.id()));
                if (!noted && v.effectiveFrom().plus(NOTING).isBefore(now)) {
                    out.add(FactFindings.notReached(
                            runner.host(), v.name(), v.version(), v.effectiveFrom(), ids(followers)));
                }
            });
        }
        return out;
    }

    private static List<String> ids(List<Evaluation> answers) {
        return answers.stream().map(e -> e.database().id()).toList();
    }

    /** Notes what is found now in the record of life spans, and gives when each was first seen. */
    Map<String, Instant> note(List<Finding> found, Instant now) {
        Lives lives = facts.store().lives();
        lives.note(
                found.stream()
                        .map(f -> new Lives.Life(
                                f.key(),
                                now,
                                Optional.empty(),
                                f.severity().word(),
                                String.join(",", f.databases()),
                                f.title()))
                        .collect(Collectors.toMap(Lives.Life::key, Function.identity(), (one, other) -> one))
                        .values()
                        .stream()
                        .toList(),
                now);
        return lives.open().values().stream().collect(Collectors.toMap(Lives.Life::key, Lives.Life::first));
    }
}
