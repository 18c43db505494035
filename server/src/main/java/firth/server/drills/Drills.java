package firth.server.drills;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.findings.DrillFindings;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Hazard;
import firth.core.record.Deed;
import firth.core.restore.DrillChoice;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.server.restore.DrillTimes;
import firth.server.restore.Plans;
import firth.server.restore.WayRows;
import firth.store.FactStore;
import firth.store.Papers;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** Proposes drills, takes what became of them, and says how the fleet stands. */
@ApplicationScoped
public class Drills {

    private static final String SORT = "drill";
    private static final int SHOWN = 200;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final ByHand byHand;
    private final Who who;
    private final ObjectMapper json;
    private final SecureRandom chance = new SecureRandom();

    Drills(Evaluations evaluations, Lookout lookout, FactsHolder facts, ByHand byHand, Who who, ObjectMapper json) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
        this.byHand = byHand;
        this.who = who;
        this.json = json;
    }

    DrillsView view(@Nullable String asOf) {
        Lookout.View view = lookout.view(asOf, "");
        Evaluations.Fleetwide all = evaluations.all(view);
        Map<String, DrillsView.Proposal> proposed = open(all);
        List<DrillsView.DrillRow> rows = new ArrayList<>();
        List<Of> done = new ArrayList<>();
        for (Evaluation e : all.answers()) {
            if (!e.database().isServedAt(view.asOf())) {
                continue;
            }
            List<Drill> own = all.fleet().drills(e.database().id());
            rows.add(row(e, own, proposed.get(e.database().id())));
            own.stream()
                    .filter(d -> d.at().filter(at -> !at.isAfter(view.asOf())).isPresent())
                    .forEach(d -> done.add(new Of(e, d)));
        }
        rows.sort(Comparator.comparing((DrillsView.DrillRow r) ->
                        List.of("failed", "due", "awaited", "proved", "none").indexOf(r.state()))
                .thenComparing(r -> r.due() == null ? Instant.MAX : r.due())
                .thenComparing(DrillsView.DrillRow::name));
        done.sort(Comparator.comparing((Of o) -> o.drill.at().orElseThrow())
                .reversed()
                .thenComparing(o -> o.drill.id()));
        return new DrillsView(
                view.asOf(),
                rows.size(),
                (int) rows.stream().filter(r -> r.every() != null).count(),
                (int) rows.stream().filter(r -> r.state().equals("proved")).count(),
                (int) rows.stream().filter(r -> r.proved() != null).count(),
                rows,
                done.stream()
                        .limit(SHOWN)
                        .map(o -> done(all, o.answer, o.drill))
                        .toList());
    }

    private record Of(Evaluation answer, Drill drill) {}

    private static DrillsView.DrillRow row(Evaluation e, List<Drill> drills, DrillsView.@Nullable Proposal proposed) {
        DrillFindings.DrillStanding s = DrillFindings.standing(e, drills);
        boolean due = s.due().filter(d -> !d.isAfter(e.asOf())).isPresent();
        return new DrillsView.DrillRow(
                e.database().id(),
                e.database().name(),
                e.version().map(v -> v.name()).orElse(null),
                s.every().map(Plans::seconds).orElse(null),
                s.proved().flatMap(Drill::at).orElse(null),
                s.due().orElse(null),
                state(s, due),
                proposed);
    }

    private static String state(DrillFindings.DrillStanding s, boolean due) {
        if (s.failed().isPresent()) {
            return "failed";
        }
        if (due) {
            return "due";
        }
        return s.every().isEmpty() ? "none" : s.proved().isPresent() ? "proved" : "awaited";
    }

    private DrillsView.DrillDone done(Evaluations.Fleetwide all, Evaluation e, Drill d) {
        String outcome = d.ok().isEmpty()
                ? "untold"
                : !d.ok().get() ? "failed" : d.checks().isEmpty() ? "unchecked" : "proved";
        return new DrillsView.DrillDone(
                d.id(),
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                d.at().orElseThrow(),
                d.moment().orElse(null),
                d.reached().orElse(null),
                d.backup().orElse(null),
                outcome,
                DrillTimes.took(d).map(Plans::seconds).orElse(null),
                DrillTimes.expected(d, all.facts(e), all.fleet().fleet())
                        .map(Plans::seconds)
                        .orElse(null),
                d.checks(),
                d.message(),
                outcome.equals("failed") ? Suspects.of(all, e, d).size() : 0);
    }

    /** The proposals of which nobody told yet, the newest of each database. */
    private Map<String, DrillsView.Proposal> open(Evaluations.Fleetwide all) {
        Map<String, DrillsView.Proposal> out = new HashMap<>();
        for (Papers.Paper paper : facts.store().papers().all(SORT)) {
            boolean told = all.fleet().drills(paper.subject()).stream().anyMatch(d -> d.id().equals(paper.id()));
            if (!told) {
                out.putIfAbsent(paper.subject(), read(paper.document()));
            }
        }
        return out;
    }

    /** Proposes one: of the database that waits longest, where none is named. */
    DrillsView.Proposal propose(Optional<String> wanted) {
        Lookout.View view = lookout.view("", "");
        String database = wanted.orElseGet(this::first);
        Evaluations.Fleetwide one = evaluations.one(database, view);
        Evaluation e = one.answers().get(0);
        DatabaseFacts own = one.facts(e);
        long seed = chance.nextInt(Integer.MAX_VALUE);
        Instant moment = DrillChoice.moment(e, one.fleet().drills(database), seed)
                .orElseThrow(() -> new BadRequest("database", database + " cannot be restored to any moment now"));
        Way way = new Planning(own, one.fleet().fleet(), view.asOf(), Hazard.MISHAP, Losses.NONE)
                .to(moment)
                .ways()
                .get(0);
        String title;
        try (Snapshot snapshot = facts.store().read()) {
            title = new WayRows(one.fleet(), e, snapshot).row(way, way).title();
        }
        DrillsView.Proposal proposal = new DrillsView.Proposal(
                "drill-" + UUID.randomUUID().toString().substring(0, 8),
                database,
                moment,
                seed,
                way.timeKnown() ? Plans.seconds(way.time()) : null,
                way.tip(),
                title,
                who.name(),
                lookout.now());
        ObjectNode detail = json.createObjectNode()
                .put("database", database)
                .put("moment", moment.toString())
                .put("seed", seed);
        facts.store()
                .papers()
                .keep(
                        new Papers.Paper(proposal.id(), SORT, database, who.id(), proposal.at(), write(proposal)),
                        new Deed.Told(who.id(), "drill-proposed", proposal.id(), detail.toString()));
        return proposal;
    }

    private String first() {
        return view("").rows().stream()
                .filter(r -> r.state().equals("failed") || r.state().equals("due"))
                .findFirst()
                .map(DrillsView.DrillRow::database)
                .orElseThrow(() -> new BadRequest("database", "is to be named: no drill is due"));
    }

    /** Takes what became of a proposed drill. */
    void tell(String id, DrillsView.DrillResult result) {
        DrillsView.Proposal proposal = facts.store()
                .papers()
                .one(SORT, id)
                .map(p -> read(p.document()))
                .orElseThrow(() -> new NotFound("No drill " + id + " was proposed."));
        if (result.started() == null || result.ended() == null || result.ended().isBefore(result.started())) {
            throw new BadRequest("ended", "and started are both needed, in this order");
        }
        if (result.ended().isAfter(lookout.now())) {
            throw new BadRequest("ended", "is in the future");
        }
        byHand.take(StatedRecords.of(new Drill(
                id,
                proposal.database(),
                Optional.of(result.started()),
                Optional.of(result.ended()),
                Optional.of(proposal.moment()),
                Optional.ofNullable(result.reached()),
                Optional.of(proposal.tip()),
                Optional.of(result.ok()),
                result.checks().stream()
                        .filter(c -> !c.isBlank())
                        .map(String::strip)
                        .toList(),
                Optional.ofNullable(result.message()).orElse("").strip())));
    }

    /** Marks the copies a failed drill read as spoiled, found now; nobody knows since when. */
    DrillsView.Suspected suspect(String id) {
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        for (Evaluation e : all.answers()) {
            Optional<Drill> drill = all.fleet().drills(e.database().id()).stream()
                    .filter(d -> d.id().equals(id))
                    .findFirst();
            if (drill.isPresent()) {
                if (drill.get().ok().orElse(true)) {
                    throw new BadRequest("drill", id + " did not fail");
                }
                return new DrillsView.Suspected(spoil(id, Suspects.of(all, e, drill.get())));
            }
        }
        throw new NotFound("There is no drill " + id + ".");
    }

    private int spoil(String drill, List<Suspects.Suspect> suspects) {
        Instant now = lookout.now();
        List<Backup> spoilt;
        try (Snapshot snapshot = facts.store().read()) {
            spoilt = suspects.stream()
                    .flatMap(s -> Suspects.spoilt(snapshot, s, now).stream())
                    .toList();
        }
        ObjectNode detail = json.createObjectNode();
        suspects.forEach(s -> detail.withArray("copies").add(s.store() + "|" + s.backup()));
        try {
            facts.store()
                    .write(
                            catalog -> {
                                spoilt.forEach(catalog::put);
                                return spoilt.size();
                            },
                            n -> new Delivered(
                                    Optional.of(now),
                                    Optional.of(new Deed.Told(who.id(), "drill-suspects", drill, detail.toString()))),
                            now);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return spoilt.size();
    }

    private record Delivered(Optional<Instant> newestFact, Optional<Deed.Told> deed) implements FactStore.Delivery {
        @Override
        public String source() {
            return "by hand";
        }
    }

    private DrillsView.Proposal read(String text) {
        try {
            return json.readValue(text, DrillsView.Proposal.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A proposal kept here cannot be read", e);
        }
    }

    private String write(DrillsView.Proposal proposal) {
        try {
            return json.writeValueAsString(proposal);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A proposal cannot be written", e);
        }
    }
}
