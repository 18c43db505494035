package firth.server.policies;

import firth.core.findings.Check;
import firth.core.findings.Followers;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.exchange.PolicyDocument;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.ProbedNow;
import firth.server.evaluation.Probes;
import firth.server.evaluation.Summaries;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Drafts;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
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
    private final Probes probes;
    private final Lookout lookout;
    private final Summaries summaries;
    private final FollowerPart part;

    PolicyViews(FactsHolder facts, Lookout lookout, Summaries summaries, FollowerPart part, Probes probes) {
        this.facts = facts;
        this.probes = probes;
        this.lookout = lookout;
        this.summaries = summaries;
        this.part = part;
    }

    /** The versions of each policy as they were written, by policy and moment, withdrawn ones, too. */
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
        Parts<FollowerPart.Follows> all = followers(id);
        Optional<PolicyVersion> inForce = all.now().fleet().versionAt(id, now);
        Map<String, Integer> grades = new TreeMap<>();
        all.each().forEach(d -> grades.merge(d.graded(), 1, Integer::sum));
        OptionalDouble attainment = all.each().stream()
                .map(FollowerPart.Follows::attainment)
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
                all.each().size(),
                grades.entrySet().stream()
                        .map(g -> new Policies.Grades(g.getKey(), g.getValue()))
                        .toList(),
                attainment.isPresent() ? attainment.getAsDouble() : null,
                inForce.map(v -> Consequences.flaws(v, inCommon(all), now)).orElse(List.of()),
                draft.map(Drafts.Draft::saved).orElse(null),
                all.now().fleet().versions(id).stream()
                        .map(PolicyVersion::effectiveFrom)
                        .filter(now::isBefore)
                        .findFirst()
                        .orElse(null));
    }

    private Parts<FollowerPart.Follows> followers(String policy) {
        Instant now = lookout.now();
        return summaries.some(d -> d.policyAt(now).filter(policy::equals).isPresent(), lookout.view("", ""), part);
    }

    private static Followers inCommon(Parts<FollowerPart.Follows> all) {
        return Followers.together(
                all.each().stream().map(FollowerPart.Follows::habits).toList());
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
        Parts<FollowerPart.Follows> all = followers(id);
        Optional<PolicyVersion> inForce = all.now().fleet().versionAt(id, now);
        List<Policies.VersionView> views = new ArrayList<>();
        for (PolicyVersion v : all.now().fleet().versions(id)) {
            String state = v.effectiveFrom().isAfter(now)
                    ? "coming"
                    : inForce.filter(v::equals).isPresent() ? "in-force" : "earlier";
            of(versions, v.version())
                    .ifPresent(d ->
                            views.add(0, new Policies.VersionView(v.version(), v.effectiveFrom(), state, d.json())));
        }
        for (PolicyDocument d : versions) {
            if (!d.stands()) {
                d.read()
                        .version()
                        .ifPresent(v -> views.add(
                                new Policies.VersionView(v.version(), v.effectiveFrom(), "withdrawn", d.json())));
            }
        }
        views.sort(Comparator.comparing(Policies.VersionView::effectiveFrom)
                .thenComparing(Policies.VersionView::version)
                .reversed());
        return new Policies.PolicyView(
                id,
                name(id, inForce, draft),
                now,
                views,
                draft.map(d -> new Policies.DraftView(
                                d.saved(), PolicyDocument.of(d.document()).json()))
                        .orElse(null),
                followers(all, now),
                all.now().closures().stream()
                        .filter(c -> c.policy().filter(id::equals).isPresent())
                        .filter(c -> c.span().from().isBefore(c.span().to()))
                        .sorted(Comparator.comparing(c -> c.span().from()))
                        .map(c -> new Policies.ClosureView(
                                c.id(), c.span().from(), c.span().to(), c.reason()))
                        .toList());
    }

    private List<Policies.Follower> followers(Parts<FollowerPart.Follows> all, Instant now) {
        List<Policies.Follower> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = probes.ofMany(snapshot, all.now().fleet(), now);
            for (int i = 0; i < all.each().size(); i++) {
                Database d = all.databases().get(i);
                out.add(follower(all.now(), d, all.each().get(i).grade(), probed.checks(d)));
            }
        }
        return out;
    }

    private static Policies.Follower follower(FleetNow fleet, Database d, String grade, List<Check> checks) {
        return new Policies.Follower(
                d.id(),
                d.name(),
                fleet.siteName(d.site()),
                d.zone().getId(),
                grade,
                Readiness.worst(checks).word(),
                checks.stream()
                        .filter(c -> c.state() == Check.State.NOT_READY)
                        .map(ReadinessWords::of)
                        .toList());
    }

    /** The version in force as it was written; empty where none is. */
    Optional<PolicyDocument> inForce(String id) {
        return Forcing.inForce(written().getOrDefault(id, List.of()), lookout.now());
    }

    int next(String id) {
        return written().getOrDefault(id, List.of()).stream()
                        .mapToInt(d -> d.json().path("version").asInt(1))
                        .max()
                        .orElse(0)
                + 1;
    }
}
