package firth.server.drills;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.record.Deed;
import firth.core.restore.DrillChoice;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.exchange.StatedRecords;
import firth.exchange.Told;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.server.platform.NotFound;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import firth.server.platform.Who;
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
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** Proposes drills, takes what became of them, and says how the fleet stands. */
@ApplicationScoped
public class Drills {

    private static final String SORT = "drill";
    private static final int SHOWN = 100;

    private final Evaluations evaluations;
    private final Summaries summaries;
    private final DrillPart part;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final ByHand byHand;
    private final Who who;
    private final ObjectMapper json;
    private final SecureRandom chance = new SecureRandom();

    Drills(
            Evaluations evaluations,
            Summaries summaries,
            DrillPart part,
            Lookout lookout,
            FactsHolder facts,
            ByHand byHand,
            Who who,
            ObjectMapper json) {
        this.evaluations = evaluations;
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
        this.facts = facts;
        this.byHand = byHand;
        this.who = who;
        this.json = json;
    }

    DrillsView view(@Nullable String asOf, ListPart stretch) {
        Lookout.View view = lookout.view(asOf, "");
        Parts<DrillPart.Drilled> all = summaries.all(view, part);
        List<DrillsView.DrillRow> rows = rows(all);
        return new DrillsView(
                view.asOf(),
                rows.size(),
                (int) rows.stream().filter(r -> r.every() != null).count(),
                (int) rows.stream().filter(r -> r.state().equals("proved")).count(),
                (int) rows.stream().filter(r -> r.proved() != null).count(),
                (int) rows.stream().filter(Drills::isDue).count(),
                rows.stream()
                        .filter(r -> isDue(r) || r.state().equals("awaited"))
                        .map(r -> withProposal(r, all.now()))
                        .filter(r -> r.proposed() == null)
                        .findFirst()
                        .orElse(null),
                stretch.of(rows).stream().map(r -> withProposal(r, all.now())).toList(),
                all.each().stream()
                        .flatMap(d -> d.done().stream())
                        .sorted(Comparator.comparing(DrillsView.DrillDone::at)
                                .reversed()
                                .thenComparing(DrillsView.DrillDone::id))
                        .limit(SHOWN)
                        .toList());
    }

    private static boolean isDue(DrillsView.DrillRow row) {
        return row.state().equals("failed") || row.state().equals("due");
    }

    /** Those that failed first, then those that have been due longest. */
    private List<DrillsView.DrillRow> rows(Parts<DrillPart.Drilled> all) {
        return all.each().stream()
                .flatMap(d -> d.row().stream())
                .sorted(Comparator.comparing(
                                (DrillsView.DrillRow r) -> List.of("failed", "due", "awaited", "proved", "none")
                                        .indexOf(r.state()))
                        .thenComparing(r -> r.due() == null ? Instant.MAX : r.due())
                        .thenComparing(DrillsView.DrillRow::name))
                .toList();
    }

    /** With the drill that was proposed last of the database, where nobody told of it yet; what was proposed before that is past. */
    private DrillsView.DrillRow withProposal(DrillsView.DrillRow row, FleetNow fleet) {
        return row.proposed(facts.store()
                .papers()
                .newest(SORT, row.database())
                .filter(p -> fleet.drills(row.database()).stream().noneMatch(d -> d.id().equals(p.id())))
                .map(p -> read(p.document()))
                .orElse(null));
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
        return rows(summaries.all(lookout.view("", ""), part)).stream()
                .filter(Drills::isDue)
                .findFirst()
                .map(DrillsView.DrillRow::database)
                .orElseThrow(() -> new BadRequest("database", "is to be named: no drill is due"));
    }

    /** Takes what became of a proposed drill; of a program that is no operator only where it asked for the proposal itself. */
    void tell(String id, DrillsView.DrillResult result) {
        Papers.Paper paper = facts.store()
                .papers()
                .one(SORT, id)
                .orElseThrow(() -> new NotFound("No drill " + id + " was proposed."));
        if (!who.has(Roles.OPERATOR) && !paper.by().equals(who.id())) {
            throw Refused.notYours(
                    "The drill " + id + " was not proposed to this program.", "Whoever asked for it can tell of it.");
        }
        DrillsView.Proposal proposal = read(paper.document());
        if (result.started() == null || result.ended() == null || result.ended().isBefore(result.started())) {
            throw new BadRequest("ended", "and started are both needed, in this order");
        }
        if (lookout.passed(result.ended()).isEmpty()) {
            throw new BadRequest("ended", "is in the future");
        }
        Drill drill = new Drill(
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
                Optional.ofNullable(result.message()).orElse("").strip());
        byHand.take(StatedRecords.of(drill));
        if (drill.proves()) {
            raise(drill, result.ended());
        }
    }

    /** What a drill was restored from is known to serve. */
    private void raise(Drill drill, Instant ended) {
        Evaluations.Fleetwide one = evaluations.one(drill.database(), lookout.viewNow());
        Told.Known restored = new Told.Known(Evidence.RESTORED, Optional.of(who.id()), Optional.of(ended));
        List<FactStore.Said> said;
        try (Snapshot snapshot = facts.store().read()) {
            said = CopiesRead.of(one, one.answers().get(0), drill).stream()
                    .map(r -> new FactStore.Said(
                            r.backup(),
                            drill.database(),
                            r.store(),
                            Told.known(snapshot.copyTold(r.backup(), r.store()), restored)))
                    .toList();
        }
        Instant now = lookout.now();
        try {
            facts.store().say(said, new Delivered(Optional.of(now), Optional.empty()), now);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Marks the copies a failed drill read as spoiled, found now; nobody knows since when. */
    DrillsView.Suspected suspect(String id) {
        FleetNow fleet = evaluations.fleetNow();
        String database = fleet.databases().keySet().stream()
                .filter(d -> fleet.drills(d).stream().anyMatch(x -> x.id().equals(id)))
                .findFirst()
                .orElseThrow(() -> new NotFound("There is no drill " + id + "."));
        Evaluations.Fleetwide one = evaluations.one(database, lookout.view("", ""));
        Drill drill = one.fleet().drills(database).stream()
                .filter(d -> d.id().equals(id))
                .findFirst()
                .orElseThrow(() -> new NotFound("There is no drill " + id + "."));
        if (drill.ok().orElse(true)) {
            throw new BadRequest("drill", id + " did not fail");
        }
        List<CopiesRead.Read> read = CopiesRead.dataOf(one, one.answers().get(0), drill);
        ObjectNode detail = json.createObjectNode();
        read.forEach(r -> detail.withArray("copies").add(r.store() + "|" + r.backup()));
        return new DrillsView.Suspected(spoil(read, new Deed.Told(who.id(), "drill-suspects", id, detail.toString())));
    }

    private int spoil(List<CopiesRead.Read> read, Deed.Told deed) {
        Instant now = lookout.now();
        List<Backup> spoilt;
        try (Snapshot snapshot = facts.store().read()) {
            spoilt = read.stream()
                    .flatMap(r -> CopiesRead.spoilt(snapshot, r, now).stream())
                    .toList();
        }
        try {
            facts.store()
                    .write(
                            catalog -> {
                                spoilt.forEach(catalog::put);
                                return spoilt.size();
                            },
                            n -> new Delivered(Optional.of(now), Optional.of(deed)),
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
