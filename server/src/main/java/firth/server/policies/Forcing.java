package firth.server.policies;

import firth.core.model.PolicyVersion;
import firth.exchange.PolicyDocument;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Puts what was written in force: as the newest version, from a moment that has not passed. */
@ApplicationScoped
class Forcing {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final PolicyFollowers following;
    private final ByHand byHand;
    private final Who who;

    Forcing(FactsHolder facts, Lookout lookout, PolicyFollowers following, ByHand byHand, Who who) {
        this.facts = facts;
        this.lookout = lookout;
        this.following = following;
        this.byHand = byHand;
        this.who = who;
    }

    /** Makes what was written the newest version, from a moment that has not passed. */
    Policies.VersionView putInForce(String id, Policies.PutInForce order) {
        if (order.why().isBlank()) {
            throw new BadRequest("why", "is missing: what is the reason?");
        }
        Evaluations.Fleetwide all = following.of(id);
        Instant now = lookout.now();
        Instant wanted = moment(order.at(), all);
        ZoneId zone = following.zone(id);
        PolicyVersion tried = read(PolicyDocument.of(order.document()).as(id, 1, wanted));
        String despite = Optional.ofNullable(order.despite()).orElse("").strip();
        if (despite.isEmpty()
                && !Consequences.flaws(tried, following.inCommon(all), now).isEmpty()) {
            throw new BadRequest(
                    "despite", "is missing: the policy contradicts itself; say why it is put in force all the same");
        }
        List<PolicyDocument> forced = new ArrayList<>();
        byHand.take(() -> {
            forced.clear();
            List<PolicyDocument> known = versions(id);
            forced.add(next(id, known, order, wanted)
                    .anchored(inForce(known, now), zone, wanted.atZone(zone).toLocalDate())
                    .noted(who.name(), now, order.why().strip(), despite));
            List<PolicyDocument> planned =
                    known.stream().filter(d -> isComing(d, now)).toList();
            if (!planned.isEmpty()) {
                forced.addAll(replaced(
                        planned, order.planned(), now, read(forced.get(0)).version()));
            }
            return forced.stream().map(PolicyDocument::stated).toList();
        });
        facts.store().drafts().remove(id);
        PolicyVersion version = read(forced.get(0));
        return new Policies.VersionView(
                version.version(),
                version.effectiveFrom(),
                version.effectiveFrom().isAfter(now) ? "coming" : "in-force",
                forced.get(0).json());
    }

    private static PolicyDocument next(
            String id, List<PolicyDocument> known, Policies.PutInForce order, Instant wanted) {
        int number = known.stream().mapToInt(d -> read(d).version()).max().orElse(0) + 1;
        return PolicyDocument.of(order.document()).as(id, number, wanted);
    }

    /** The version in force, as it was written. */
    static Optional<PolicyDocument> inForce(List<PolicyDocument> versions, Instant now) {
        return versions.stream()
                .filter(PolicyDocument::stands)
                .filter(d -> !read(d).effectiveFrom().isAfter(now))
                .max(Comparator.comparing((PolicyDocument d) -> read(d).effectiveFrom())
                        .thenComparing(d -> read(d).version()));
    }

    private static boolean isComing(PolicyDocument version, Instant now) {
        return version.stands() && read(version).effectiveFrom().isAfter(now);
    }

    /** The planned versions that are withdrawn for a new one; none where they are to stand. */
    private List<PolicyDocument> replaced(
            List<PolicyDocument> planned, @Nullable String what, Instant now, int version) {
        if ("stands".equals(what)) {
            return List.of();
        }
        if (!"withdrawn".equals(what)) {
            PolicyVersion first = read(planned.get(0));
            throw new Conflict(
                    "Version " + first.version() + " is still to come, from " + first.effectiveFrom() + ".",
                    "Say whether it stands, and takes over then, or is withdrawn.");
        }
        return planned.stream()
                .map(d -> d.withdrawn(who.name(), now, "version " + version + " stands in its place"))
                .toList();
    }

    /** Withdraws a version that is still to come. */
    void withdraw(String id, int version, String why) {
        if (why.isBlank()) {
            throw new BadRequest("why", "is missing: what is the reason?");
        }
        byHand.take(() -> {
            Instant now = lookout.now();
            PolicyDocument document = versions(id).stream()
                    .filter(d -> read(d).version() == version)
                    .findFirst()
                    .orElseThrow(() -> new NotFound("There is no version " + version + " of the policy " + id + "."));
            if (!isComing(document, now)) {
                throw new Conflict(
                        "Version " + version
                                + (document.stands() ? " is in force or has been." : " was withdrawn already."),
                        "Put a version in force that says what is to hold instead.");
            }
            return List.of(document.withdrawn(who.name(), now, why.strip()).stated());
        });
    }

    /** A policy's versions as they were written, withdrawn ones, too. */
    private List<PolicyDocument> versions(String id) {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.documents("policy").stream()
                    .map(PolicyDocument::of)
                    .filter(d -> d.json().path("id").asText().equals(id))
                    .toList();
        }
    }

    private static PolicyVersion read(PolicyDocument document) {
        PolicyDocument.Reading reading = document.read();
        return reading.version()
                .orElseThrow(() -> new BadRequest(
                        reading.flaw().map(PolicyDocument.Flaw::path).orElse("The policy"),
                        reading.flaw().map(PolicyDocument.Flaw::reason).orElse("cannot be read")));
    }

    private Instant moment(String at, Evaluations.Fleetwide all) {
        Instant now = lookout.now();
        if (at == null || at.equals("now")) {
            return now;
        }
        if (at.equals("quiet")) {
            return following
                    .quiet(all)
                    .orElseThrow(() ->
                            new BadRequest("at", "is not possible: within a week somebody is always inside a window"))
                    .at();
        }
        return Texts.instant(at)
                .filter(t -> !t.isBefore(now))
                .orElseThrow(() -> new BadRequest("at", "is neither now, quiet nor an instant that has not passed"));
    }
}
