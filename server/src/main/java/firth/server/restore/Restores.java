package firth.server.restore;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Id;
import firth.core.record.Deed;
import firth.engines.Recipe;
import firth.exchange.DatabaseDocument;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.store.Papers;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** Restores somebody began: their checklists, ticked off and kept, and how they ended. */
@ApplicationScoped
class Restores {

    private static final String SORT = "restore";

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final ByHand byHand;
    private final Who who;
    private final ObjectMapper json;

    Restores(Evaluations evaluations, FactsHolder facts, Lookout lookout, ByHand byHand, Who who, ObjectMapper json) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.byHand = byHand;
        this.who = who;
        this.json = json;
    }

    /** What is kept of one. */
    record Stored(
            RestoreView.KeptRestore kept,
            List<Checklist.LogLine> logs,
            @Nullable Recipe recipe) {}

    List<RestoreView.RestoreRow> all() {
        return facts.store().papers().all(SORT).stream()
                .map(p -> read(p.document()).kept)
                .map(k -> new RestoreView.RestoreRow(
                        k.id(),
                        k.plan().database(),
                        k.name(),
                        k.plan().target(),
                        k.by(),
                        k.at(),
                        k.ended() == null ? "under way" : k.ended().ok() ? "done" : "given up"))
                .toList();
    }

    Stored one(String id) {
        return facts.store()
                .papers()
                .one(SORT, id)
                .map(p -> read(p.document()))
                .orElseThrow(() -> new NotFound("There is no restore " + id + "."));
    }

    /** The checklist of a plan, begun by nobody yet. */
    RestoreView.KeptRestore list(
            String id, RestoreView plan, RestoreView.RestoreBegun begun, List<Checklist.LogLine> logs) {
        if (plan.ways().isEmpty()) {
            throw new BadRequest("moment", "cannot be restored from what is left: choose another");
        }
        Set<String> keys = new TreeSet<>(plan.destination().keys());
        logs.stream().map(Checklist.LogLine::key).filter(k -> !k.isEmpty()).forEach(keys::add);
        return new RestoreView.KeptRestore(
                id,
                who.name(),
                lookout.now(),
                plan,
                begun.name(),
                begun.host(),
                begun.over(),
                begun.paths(),
                Checklist.of(plan, begun, keys),
                null,
                null);
    }

    RestoreView.KeptRestore begin(RestoreView plan, RestoreView.RestoreBegun begun, WayInFull.InFull way) {
        check(plan, begun);
        RestoreView.KeptRestore kept =
                list("restore-" + UUID.randomUUID().toString().substring(0, 8), plan, begun, way.logs());
        Papers.Paper paper = new Papers.Paper(
                kept.id(),
                SORT,
                plan.database(),
                who.id(),
                kept.at(),
                write(new Stored(kept, way.logs(), way.recipe())));
        facts.store().papers().keep(paper, told("restore-begun", kept, Map.of("as", begun.name())));
        return kept;
    }

    /** A restore goes to a new name unless somebody insists. */
    private void check(RestoreView plan, RestoreView.RestoreBegun begun) {
        if (!Id.isId(begun.name())) {
            throw new BadRequest("name", Id.IS_NONE);
        }
        boolean same = begun.name().equals(plan.database());
        if (same != begun.over()) {
            throw new BadRequest(
                    "name",
                    same
                            ? "is that of the old database: choose another, or say that it may be written over"
                            : "is another than that of the old database, so that nothing is written over");
        }
        if (!same) {
            try (Snapshot snapshot = facts.store().read()) {
                if (DatabaseDocument.among(snapshot.documents("database"), begun.name())
                        .isPresent()) {
                    throw new BadRequest("name", "is that of another database");
                }
            }
        }
    }

    RestoreView.KeptRestore tick(String id, RestoreView.Ticked ticked) {
        Instant now = lookout.now();
        return change(id, Optional.empty(), now, kept -> {
            checkOpen(kept);
            if (kept.items().stream().noneMatch(i -> i.id().equals(ticked.item()))) {
                throw new NotFound("There is no line " + ticked.item() + " in " + id + ".");
            }
            return kept.with(kept.items().stream()
                    .map(i -> i.id().equals(ticked.item()) ? ticked(i, ticked.done(), now) : i)
                    .toList());
        });
    }

    private RestoreView.CheckItem ticked(RestoreView.CheckItem i, boolean done, Instant now) {
        return new RestoreView.CheckItem(
                i.id(), i.state(), i.text(), i.details(), done ? now : null, done ? who.name() : null);
    }

    /** Takes how far a program is that carries a restore out, whole each time, and ticks off what it did. */
    RestoreView.KeptRestore course(String id, RestoreView.RestoreCourse course) {
        Instant now = lookout.now();
        RestoreView.KeptRestore before = one(id).kept;
        Optional<Deed.Told> deed = Optional.of(course)
                .filter(c -> before.course() == null
                        || c.hasEnded() && !before.course().hasEnded())
                .map(c -> told(
                        "restore-carried-out",
                        before,
                        Map.of(
                                "host",
                                c.host(),
                                "outcome",
                                c.failed() != null ? "failed" : c.reached() != null ? "ok" : "begun")));
        return change(id, deed, now, kept -> {
            checkOpen(kept);
            return CarriedOut.of(kept, course, now, who.name());
        });
    }

    /** Enters how a restore ended: in history, as a new lineage or a new database, and in the record. */
    RestoreView.KeptRestore end(String id, RestoreView.RestoreEnded ended) {
        Stored known = one(id);
        RestoreView.KeptRestore kept = known.kept;
        Instant now = lookout.now();
        Instant opened = ended.opened() == null ? now : ended.opened();
        if (opened.isAfter(now) || opened.isBefore(kept.at())) {
            throw new BadRequest("opened", "is not between the beginning of the restore and now");
        }
        checkOpen(kept);
        byHand.take(new EndedRestore(evaluations, facts).facts(kept, ended, opened, who.name()));
        return change(
                id,
                Optional.of(told("restore-ended", kept, Map.of("outcome", ended.ok() ? "ok" : "failed"))),
                now,
                k -> {
                    checkOpen(k);
                    return k.with(ended);
                });
    }

    private static void checkOpen(RestoreView.KeptRestore kept) {
        if (kept.ended() != null) {
            throw new BadRequest("restore", kept.id() + " has ended already");
        }
    }

    private interface Change {
        RestoreView.KeptRestore of(RestoreView.KeptRestore kept);
    }

    private RestoreView.KeptRestore change(String id, Optional<Deed.Told> deed, Instant now, Change change) {
        return facts.store()
                .papers()
                .change(
                        SORT,
                        id,
                        text -> {
                            Stored d = read(text);
                            return write(new Stored(change.of(d.kept), d.logs, d.recipe));
                        },
                        deed,
                        now)
                .map(p -> read(p.document()).kept)
                .orElseThrow(() -> new NotFound("There is no restore " + id + "."));
    }

    private Deed.Told told(String act, RestoreView.KeptRestore kept, Map<String, String> more) {
        ObjectNode detail = json.createObjectNode().put("database", kept.plan().database());
        Optional.ofNullable(kept.plan().target()).ifPresent(t -> detail.put("moment", t.toString()));
        more.forEach(detail::put);
        return new Deed.Told(who.id(), act, kept.id(), detail.toString());
    }

    private Stored read(String text) {
        try {
            return json.readValue(text, Stored.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A restore kept here cannot be read", e);
        }
    }

    private String write(Stored document) {
        try {
            return json.writeValueAsString(document);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A restore cannot be written", e);
        }
    }
}
