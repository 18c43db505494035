package firth.server.history;

import firth.core.evaluation.Evaluation;
import firth.core.model.Kind;
import firth.exchange.FleetFileWriter;
import firth.exchange.HistoryCsv;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.store.Entry;
import firth.store.EntryFilter;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.IOException;
import java.io.OutputStream;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Runs and backups, drills and restores of the fleet: a page at a time, one in detail, and as a file. */
@Path("/api/history")
@RolesAllowed(Roles.VIEWER)
public class HistoryResource {

    private static final int LONGEST_PAGE = 500;
    private static final int LONGEST_ID = 120;
    private static final int FOUND = 6;
    private static final int EXPORTED_AT_ONCE = 2_000;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    HistoryResource(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /**
     * @param after the place to go on from, as the page before gave it; absent: the newest
     * @param under the id of a run that stands for others: they are given, the newest first
     */
    @GET
    public HistoryView page(
            @BeanParam HistoryAsked asked,
            @QueryParam("after") @Nullable String after,
            @QueryParam("under") @Nullable String under,
            @QueryParam("limit") @DefaultValue("100") int limit) {
        if (limit < 1 || limit > LONGEST_PAGE) {
            throw new BadRequest("limit", "is not between 1 and " + LONGEST_PAGE);
        }
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            Optional<Entry.Key> key = key(after);
            EntryFilter filter = asked.filter(fleet, view);
            boolean runs = asked.asksForRuns();
            HistoryFolds folds =
                    runs && (asked.fold || under != null) ? HistoryFolds.of(snapshot, filter) : HistoryFolds.none();
            if (under != null) {
                List<Entry> those =
                        folds.under(under).stream().limit(LONGEST_PAGE).toList();
                HistoryLines lines = new HistoryLines(fleet, view.asOf(), snapshot.entries()).with(judged(those, view));
                return new HistoryView(
                        view.asOf(),
                        view.period().from(),
                        those.stream().map(lines::line).toList(),
                        null);
            }
            List<Entry> entries = runs ? page(snapshot, filter, folds, key, limit) : List.of();
            HistoryLines lines = new HistoryLines(fleet, view.asOf(), snapshot.entries())
                    .with(judged(entries, view))
                    .with(folds);
            List<HistoryView.Line> out =
                    new ArrayList<>(entries.stream().map(lines::line).toList());
            new OtherEvents(fleet, snapshot, view, asked)
                    .lines().stream()
                            .filter(l -> key.isEmpty() || place(l).compareTo(key.get()) > 0)
                            .limit(limit)
                            .forEach(out::add);
            out.sort(Comparator.comparing(HistoryResource::place));
            List<HistoryView.Line> page = out.size() > limit ? out.subList(0, limit) : out;
            boolean more = page.size() == limit;
            return new HistoryView(
                    view.asOf(),
                    view.period().from(),
                    page,
                    more ? page.get(limit - 1).key() : null);
        }
    }

    /** The next lines that no newer one stands for. */
    private static List<Entry> page(
            Snapshot snapshot, EntryFilter filter, HistoryFolds folds, Optional<Entry.Key> after, int limit) {
        List<Entry> out = new ArrayList<>();
        Optional<Entry.Key> from = after;
        boolean more = true;
        while (more && out.size() < limit) {
            List<Entry> some = snapshot.entries().page(filter, from, limit);
            some.stream().filter(e -> !folds.hides(e)).forEach(out::add);
            more = some.size() == limit;
            from = more ? Optional.of(some.get(limit - 1).key()) : from;
        }
        return out.size() > limit ? out.subList(0, limit) : out;
    }

    private static Entry.Key place(HistoryView.Line line) {
        return Entry.Key.of(line.key()).orElseThrow();
    }

    private static Optional<Entry.Key> key(@Nullable String after) {
        return after == null || after.isEmpty()
                ? Optional.empty()
                : Optional.of(Entry.Key.of(after)
                        .orElseThrow(() -> new BadRequest("after", "is not a place in history as a page gives it")));
    }

    /** The answers that say which slots some lines belong to; logs have none. */
    private List<Evaluation> judged(List<Entry> entries, Lookout.View view) {
        Set<String> databases = entries.stream()
                .filter(e -> e.kind() != Kind.LOG)
                .map(Entry::database)
                .collect(Collectors.toSet());
        return databases.isEmpty()
                ? List.of()
                : evaluations.those(d -> databases.contains(d.id()), view).answers();
    }

    /**
     * Runs and backups by how their ids begin.
     *
     * @param beginning at least one character
     */
    @GET
    @Path("/ids")
    public List<HistoryView.KnownId> ids(@QueryParam("beginning") @Nullable String beginning) {
        if (beginning == null || beginning.isBlank() || beginning.length() > LONGEST_ID) {
            throw new BadRequest("beginning", "is not the beginning of an id");
        }
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.idsFrom(beginning, FOUND).stream()
                    .map(k -> new HistoryView.KnownId(k.id(), k.kind(), k.database()))
                    .toList();
        }
    }

    /** What one may choose among. */
    @GET
    @Path("/facets")
    public HistoryView.Facets facets(@BeanParam HistoryAsked asked) {
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        try (Snapshot snapshot = facts.store().read()) {
            return new HistoryFacets(evaluations.fleet(snapshot), snapshot, view, asked).all();
        }
    }

    /** One run or backup, by the id of either. */
    @GET
    @Path("/lines/{id: .+}")
    public HistoryLine line(
            @PathParam("id") String id,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        try (Snapshot snapshot = facts.store().read()) {
            Entry entry = snapshot.entries()
                    .of(id)
                    .filter(e -> !e.started().isAfter(view.asOf()))
                    .orElseThrow(() -> new NotFound("There was no run or backup " + id + " by then."));
            return new HistoryDetail(evaluations, snapshot, view).of(entry);
        }
    }

    /** Everything chosen, as fleet file lines or as a table. */
    @GET
    @Path("/export.{format: ndjson|csv}")
    @Produces({"application/x-ndjson", "text/csv"})
    public StreamingOutput export(@BeanParam HistoryAsked asked, @PathParam("format") String format) {
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        return format.equals("csv") ? to -> table(asked, view, to) : to -> records(asked, view, to);
    }

    private interface Each {
        void take(FleetNow fleet, Snapshot snapshot, List<Entry> some) throws IOException;
    }

    private void each(HistoryAsked asked, Lookout.View view, Each each) throws IOException {
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            EntryFilter filter = asked.filter(fleet, view);
            Optional<Entry.Key> after = Optional.empty();
            boolean more = asked.asksForRuns();
            while (more) {
                List<Entry> some = snapshot.entries().page(filter, after, EXPORTED_AT_ONCE);
                each.take(fleet, snapshot, some);
                more = some.size() == EXPORTED_AT_ONCE;
                after = more ? Optional.of(some.get(some.size() - 1).key()) : after;
            }
        }
    }

    private void records(HistoryAsked asked, Lookout.View view, OutputStream to) throws IOException {
        try (FleetFileWriter out = new FleetFileWriter(to)) {
            each(asked, view, (fleet, snapshot, some) -> {
                for (Entry e : some) {
                    if (e.run().isPresent()) {
                        out.write(e.run().get());
                    }
                    if (e.backup().isPresent()) {
                        out.write(e.backup().get());
                    }
                }
            });
        }
    }

    private void table(HistoryAsked asked, Lookout.View view, OutputStream to) throws IOException {
        try (HistoryCsv out = new HistoryCsv(to)) {
            each(asked, view, (fleet, snapshot, some) -> {
                HistoryLines lines = new HistoryLines(fleet, view.asOf(), snapshot.entries()).with(judged(some, view));
                for (Entry e : some) {
                    HistoryView.Line l = lines.line(e);
                    out.write(
                            e.run(),
                            e.backup(),
                            new HistoryCsv.Judged(
                                    l.name(),
                                    l.outcome(),
                                    Optional.ofNullable(l.seconds()).map(HistoryView.Figure::median),
                                    Optional.ofNullable(l.bytes()).map(HistoryView.Figure::median),
                                    Optional.ofNullable(l.schedule()),
                                    Optional.ofNullable(l.verdict()),
                                    l.spillSeconds(),
                                    l.broken()));
                }
            });
        }
    }
}
