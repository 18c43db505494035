package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Check;
import firth.core.findings.Readiness;
import firth.core.model.PolicyVersion;
import firth.exchange.PolicyDocument;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.evaluation.ProbedNow;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Drafts;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import firth.wording.Wording;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;
import java.util.TreeSet;

/** Policies as they stand: each with its versions, its draft, who follows it, and what does not fit. */
@ApplicationScoped
class PolicyViews {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final PolicyFollowers following;

    PolicyViews(FactsHolder facts, Lookout lookout, PolicyFollowers following) {
        this.facts = facts;
        this.lookout = lookout;
        this.following = following;
    }

    /** The versions of each policy as they were written, by policy and moment. */
    private Map<String, List<PolicyDocument>> written() {
        Map<String, List<PolicyDocument>> out = new TreeMap<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("policy")) {
                PolicyDocument document = PolicyDocument.of(text);
                out.computeIfAbsent(document.json().path("id").asText(), id -> new ArrayList<>())
                        .add(document);
            }
        }
        return out;
    }

    List<Policies.PolicyRow> list() {
        Map<String, List<PolicyDocument>> written = written();
        Map<String, Drafts.Draft> drafts = facts.store().drafts().all();
        TreeSet<String> ids = new TreeSet<>(written.keySet());
        ids.addAll(drafts.keySet());
        return ids.stream()
                .map(id -> row(id, written.getOrDefault(id, List.of()), Optional.ofNullable(drafts.get(id))))
                .toList();
    }

    private Policies.PolicyRow row(String id, List<PolicyDocument> versions, Optional<Drafts.Draft> draft) {
        Instant now = lookout.now();
        Evaluations.Fleetwide all = following.of(id);
        Optional<PolicyVersion> inForce = all.fleet().fleet().versionAt(id, now);
        Map<String, Integer> grades = new TreeMap<>();
        all.answers().forEach(e -> grades.merge(Wording.grade(e), 1, Integer::sum));
        OptionalDouble attainment = all.answers().stream()
                .map(e -> e.mishap().achieved().attainment())
                .flatMap(Optional::stream)
                .mapToDouble(Double::doubleValue)
                .average();
        return new Policies.PolicyRow(
                id,
                name(id, inForce, draft),
                inForce.map(PolicyVersion::version).orElse(null),
                inForce.map(PolicyVersion::enabled).orElse(false),
                inForce.map(PolicyVersion::effectiveFrom).orElse(null),
                inForce.flatMap(v -> of(versions, v.version()))
                        .map(PolicyDocument::json)
                        .orElse(null),
                all.answers().size(),
                grades.entrySet().stream()
                        .map(g -> new Policies.Grades(g.getKey(), g.getValue()))
                        .toList(),
                attainment.isPresent() ? attainment.getAsDouble() : null,
                inForce.map(v -> Consequences.flaws(v, following.inCommon(all), now))
                        .orElse(List.of()),
                draft.map(Drafts.Draft::saved).orElse(null),
                all.fleet().fleet().versions(id).stream()
                        .map(PolicyVersion::effectiveFrom)
                        .filter(now::isBefore)
                        .findFirst()
                        .orElse(null));
    }

    private static String name(String id, Optional<PolicyVersion> inForce, Optional<Drafts.Draft> draft) {
        return inForce.map(PolicyVersion::name)
                .or(() -> draft.map(
                        d -> PolicyDocument.of(d.document()).json().path("name").asText(id)))
                .orElse(id);
    }

    private static Optional<PolicyDocument> of(List<PolicyDocument> versions, int version) {
        return versions.stream()
                .filter(d -> d.json().path("version").asInt(1) == version)
                .findFirst();
    }

    /** A policy with all its versions, the newest first, and the draft of its next. */
    Policies.PolicyView one(String id) {
        List<PolicyDocument> versions = written().getOrDefault(id, List.of());
        Optional<Drafts.Draft> draft = facts.store().drafts().of(id);
        if (versions.isEmpty() && draft.isEmpty()) {
            throw new NotFound("There is no policy " + id + ".");
        }
        Instant now = lookout.now();
        Evaluations.Fleetwide all = following.of(id);
        Optional<PolicyVersion> inForce = all.fleet().fleet().versionAt(id, now);
        List<Policies.VersionView> views = new ArrayList<>();
        for (PolicyVersion v : all.fleet().fleet().versions(id)) {
            String state = v.effectiveFrom().isAfter(now)
                    ? "coming"
                    : inForce.filter(v::equals).isPresent() ? "in-force" : "earlier";
            of(versions, v.version())
                    .ifPresent(d ->
                            views.add(0, new Policies.VersionView(v.version(), v.effectiveFrom(), state, d.json())));
        }
        return new Policies.PolicyView(
                id,
                name(id, inForce, draft),
                now,
                views,
                draft.map(d -> new Policies.DraftView(
                                d.saved(), PolicyDocument.of(d.document()).json()))
                        .orElse(null),
                followers(all, now),
                all.fleet().closures().stream()
                        .filter(c -> c.policy().filter(id::equals).isPresent())
                        .filter(c -> c.span().from().isBefore(c.span().to()))
                        .sorted(Comparator.comparing(c -> c.span().from()))
                        .map(c -> new Policies.ClosureView(
                                c.id(), c.span().from(), c.span().to(), c.reason()))
                        .toList());
    }

    private List<Policies.Follower> followers(Evaluations.Fleetwide all, Instant now) {
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = new ProbedNow(snapshot, all.fleet().fleet(), now);
            return all.answers().stream()
                    .map(e -> follower(all, e, probed.checks(e.database())))
                    .toList();
        }
    }

    private static Policies.Follower follower(Evaluations.Fleetwide all, Evaluation e, List<Check> checks) {
        return new Policies.Follower(
                e.database().id(),
                e.database().name(),
                all.fleet().siteName(e.database().site()),
                e.database().zone().getId(),
                e.grade().word(),
                Readiness.worst(checks).word(),
                checks.stream()
                        .filter(c -> c.state() == Check.State.NOT_READY)
                        .map(ReadinessWords::of)
                        .toList());
    }

    int next(String id) {
        return written().getOrDefault(id, List.of()).stream()
                        .mapToInt(d -> d.json().path("version").asInt(1))
                        .max()
                        .orElse(0)
                + 1;
    }
}
