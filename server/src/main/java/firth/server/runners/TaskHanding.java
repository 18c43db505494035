package firth.server.runners;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import firth.core.evaluation.Evaluation;
import firth.core.model.Order;
import firth.core.model.PolicyVersion;
import firth.exchange.Json;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
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
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Runners, what each is to do now, and which policies it has acknowledged. */
@ApplicationScoped
class TaskHanding {
    private static final int LONGEST_NAME = 120;

    private final Evaluations evaluations;
    private final Orders orders;
    private final FactsHolder facts;
    private final Who who;
    private final Lookout lookout;

    TaskHanding(Evaluations evaluations, Orders orders, FactsHolder facts, Who who, Lookout lookout) {
        this.evaluations = evaluations;
        this.orders = orders;
        this.facts = facts;
        this.who = who;
        this.lookout = lookout;
    }

    /** Every runner that was ever heard. */
    List<RunnerWork.RunnerView> runners() {
        Instant now = lookout.now();
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        return facts.store().runners().all().values().stream()
                .map(r -> {
                    List<Evaluation> own = on(all, r.host());
                    return new RunnerWork.RunnerView(
                            r.host(),
                            r.heard(),
                            r.isSilentAt(now),
                            own.stream().map(e -> e.database().id()).toList(),
                            behind(r, versions(own, all, now)));
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

    private static List<Evaluation> on(Evaluations.Fleetwide all, String host) {
        return all.answers().stream()
                .filter(e ->
                        e.database().particulars().host().filter(host::equals).isPresent())
                .toList();
    }

    private static Map<String, PolicyVersion> versions(List<Evaluation> own, Evaluations.Fleetwide all, Instant now) {
        Map<String, PolicyVersion> out = new TreeMap<>();
        own.forEach(e -> all.fleet().fleet().versionAt(e.database(), now).ifPresent(v -> out.put(v.id(), v)));
        return out;
    }

    /**
     * What a runner works by and what it is to do now. Asking counts as a sign of life.
     *
     * @param every how often it asks, an ISO 8601 duration from a second to a day
     */
    RunnerWork work(String host, String every) {
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
        Evaluations.Fleetwide own = evaluations.those(
                d -> d.particulars().host().filter(host::equals).isPresent(), lookout.view("", ""));
        List<Order> wanted = orders.wanted(now);
        List<RunnerWork.Task> tasks = new ArrayList<>();
        own.answers()
                .forEach(e -> tasks.addAll(new Tasks(own.facts(e), own.fleet().fleet(), now).of(wanted)));
        return new RunnerWork(
                now, host, served(own, Optional.ofNullable(runners.all().get(host)), now), tasks);
    }

    private List<RunnerWork.Served> served(Evaluations.Fleetwide own, Optional<Runners.Runner> runner, Instant now) {
        Map<String, PolicyVersion> inForce = versions(own.answers(), own, now);
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
                        own.answers().stream()
                                .filter(e -> e.database()
                                        .policyAt(now)
                                        .filter(v.id()::equals)
                                        .isPresent())
                                .map(e -> e.database().id())
                                .collect(Collectors.toList()),
                        documents.stream()
                                .filter(d -> d.path("id").asText().equals(v.id())
                                        && d.path("version").asInt(1) == v.version())
                                .findFirst()
                                .orElse(Json.MAPPER.createObjectNode())));
            }
        }
        return out;
    }

    private static JsonNode parsed(String document) {
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
                && evaluations.all(lookout.view("", "")).fleet().fleet().versions(policy).stream()
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
