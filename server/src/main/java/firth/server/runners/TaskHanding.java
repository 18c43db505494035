package firth.server.runners;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import firth.core.model.Database;
import firth.core.model.Order;
import firth.core.model.PolicyVersion;
import firth.exchange.Json;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Refused;
import firth.server.platform.Who;
import firth.store.Runners;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Runners, what each is to do now, and which policies it has acknowledged. */
@ApplicationScoped
class TaskHanding {
    private static final int LONGEST_NAME = 120;

    private final Evaluations evaluations;
    private final Summaries summaries;
    private final DuePart due;
    private final Orders orders;
    private final FactsHolder facts;
    private final Who who;
    private final Lookout lookout;

    TaskHanding(
            Evaluations evaluations,
            Summaries summaries,
            DuePart due,
            Orders orders,
            FactsHolder facts,
            Who who,
            Lookout lookout) {
        this.evaluations = evaluations;
        this.summaries = summaries;
        this.due = due;
        this.orders = orders;
        this.facts = facts;
        this.who = who;
        this.lookout = lookout;
    }

    /** Every runner that was ever heard. */
    List<RunnerWork.RunnerView> runners() {
        Instant now = lookout.now();
        FleetNow fleet = evaluations.fleetNow();
        Map<String, List<Database>> byHost = fleet.databases().values().stream()
                .filter(d -> !fleet.standbys().isStandby(d.id()))
                .filter(d -> d.particulars().host().isPresent())
                .collect(Collectors.groupingBy(d -> d.particulars().host().orElseThrow()));
        return facts.store().runners().all().values().stream()
                .map(r -> {
                    List<Database> own = byHost.getOrDefault(r.host(), List.of());
                    return new RunnerWork.RunnerView(
                            r.host(),
                            r.heard(),
                            r.isSilentAt(now),
                            own.stream().map(Database::id).toList(),
                            behind(r, versions(own, fleet, now)));
                })
                .toList();
    }

    private static List<String> behind(Runners.Runner runner, Map<String, PolicyVersion> inForce) {
        return inForce.values().stream()
                .filter(v ->
                        !Integer.valueOf(v.version()).equals(runner.versions().get(v.id())))
                .map(PolicyVersion::id)
                .toList();
    }

    private static Map<String, PolicyVersion> versions(List<Database> own, FleetNow fleet, Instant now) {
        Map<String, PolicyVersion> out = new TreeMap<>();
        own.forEach(d -> fleet.fleet().versionAt(d, now).ifPresent(v -> out.put(v.id(), v)));
        return out;
    }

    /**
     * What a runner works by and what it is to do now. Asking counts as a sign of life.
     *
     * @param every how often it asks, an ISO 8601 duration from a second to a day
     * @param whole whether it wants to know what it takes to go on while Firth is away
     */
    RunnerWork work(String host, String every, boolean whole) {
        checkOwn(host);
        Instant now = lookout.now();
        if (host.isBlank() || host.length() > LONGEST_NAME) {
            throw new BadRequest("host", "is not a name of 1 to 120 characters");
        }
        Duration asks = Texts.duration(every)
                .filter(d -> d.compareTo(Duration.ofSeconds(1)) >= 0 && d.compareTo(Duration.ofDays(1)) <= 0)
                .orElseThrow(() -> new BadRequest("every", "is not a duration from PT1S to P1D"));
        Runners runners = facts.store().runners();
        runners.heard(host, now, asks);
        FleetNow fleet = evaluations.fleetNow();
        List<Database> own = fleet.databases().values().stream()
                .filter(d -> !fleet.standbys().isStandby(d.id()))
                .filter(d -> d.particulars().host().filter(host::equals).isPresent())
                .toList();
        List<Order> wanted = orders.wanted(now);
        return new RunnerWork(
                now,
                host,
                served(fleet, own, Optional.ofNullable(runners.all().get(host)), now),
                whole ? HostFleet.of(facts, fleet, own, now) : List.of(),
                tasks(own, wanted, now));
    }

    /** What is to be started, read from the facts of those databases alone of which something may be. */
    private List<RunnerWork.Task> tasks(List<Database> own, List<Order> wanted, Instant now) {
        Set<String> ids = own.stream().map(Database::id).collect(Collectors.toSet());
        // To the millisecond: facts that come in every second are looked at anew within the second that has begun.
        Lookout.View view = lookout.viewNow();
        Parts<Instant> quiet = summaries.some(ids, view, due);
        Set<String> asked =
                wanted.stream().map(Order::database).filter(ids::contains).collect(Collectors.toSet());
        for (int i = 0; i < quiet.each().size(); i++) {
            if (!quiet.each().get(i).isAfter(view.asOf())) {
                asked.add(quiet.databases().get(i).id());
            }
        }
        if (asked.isEmpty()) {
            return List.of();
        }
        return evaluations.ofFacts(asked, (fleet, facts) -> new Tasks(facts, fleet.fleet(), now).of(wanted)).stream()
                .flatMap(List::stream)
                .toList();
    }

    private List<RunnerWork.Served> served(
            FleetNow fleet, List<Database> own, Optional<Runners.Runner> runner, Instant now) {
        Map<String, PolicyVersion> inForce = versions(own, fleet, now);
        List<RunnerWork.Served> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            List<JsonNode> documents = snapshot.documents("policy").stream()
                    .map(TaskHanding::parsed)
                    .toList();
            for (PolicyVersion v : inForce.values()) {
                out.add(new RunnerWork.Served(
                        v.id(),
                        v.version(),
                        runner.map(r -> r.versions().get(v.id())).orElse(null),
                        own.stream()
                                .filter(d ->
                                        d.policyAt(now).filter(v.id()::equals).isPresent())
                                .map(Database::id)
                                .toList(),
                        documents.stream()
                                .filter(d -> d.path("id").asText().equals(v.id())
                                        && d.path("version").asInt(1) == v.version())
                                .findFirst()
                                .orElse(Json.MAPPER.createObjectNode())));
            }
        }
        return out;
    }

    static JsonNode parsed(String document) {
        try {
            return Json.MAPPER.readTree(document);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A policy kept here is not JSON", e);
        }
    }

    /** A runner works by a version of a policy from now on. */
    void acknowledge(String host, String policy, RunnerWork.Acknowledged said) {
        checkOwn(host);
        boolean known = said != null
                && evaluations.fleetNow().fleet().versions(policy).stream()
                        .anyMatch(v -> v.version() == said.version());
        if (!known) {
            throw new BadRequest("version", "is none that policy " + policy + " has");
        }
        facts.store().runners().acknowledged(host, policy, said.version(), lookout.now());
    }

    /** The token of a runner may be bound to its host. */
    private void checkOwn(String host) {
        if (who.place().filter(p -> !p.equals(host)).isPresent()) {
            throw Refused.notYours(
                    "This token speaks of " + who.place().get() + " alone, not of " + host + ".",
                    "Give the runner there a token of its own.");
        }
    }
}
