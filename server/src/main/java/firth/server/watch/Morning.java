package firth.server.watch;

import firth.core.adherence.Attempt;
import firth.core.adherence.Attempts;
import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.forecast.Usual;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Order;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.time.Span;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Condition;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.platform.FactsHolder;
import firth.server.runners.Orders;
import firth.store.Lives;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The morning watch of a moment. */
@ApplicationScoped
class Morning {
    private static final Duration AHEAD = Duration.ofHours(12);

    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final PolicyFollowers following;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final Orders orders;
    private final Accepting accepting;

    Morning(
            Evaluations evaluations,
            FindingsNow findings,
            PolicyFollowers following,
            Lookout lookout,
            FactsHolder facts,
            Orders orders,
            Accepting accepting) {
        this.evaluations = evaluations;
        this.findings = findings;
        this.following = following;
        this.lookout = lookout;
        this.facts = facts;
        this.orders = orders;
        this.accepting = accepting;
    }

    /** @param looked when this person last looked, an RFC 3339 instant; absent: never */
    Watch watch(@Nullable String asOf, @Nullable String period, @Nullable String looked) {
        boolean looksBack = Lookout.looksBack(asOf);
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide all = evaluations.all(view);
        Optional<Instant> clock = looksBack ? Optional.empty() : Optional.of(lookout.now());
        List<Finding> found = findings.all(all.fleet(), conditions(all, view), view.asOf(), clock);
        Map<String, Instant> seen = looksBack ? Map.of() : findings.seen();
        Map<String, Evaluation> answers = all.answers().stream()
                .collect(Collectors.toMap(e -> e.database().id(), Function.identity()));
        WatchRows rows =
                new WatchRows(all.fleet(), new CoverRows(all.fleet(), view), answers, seen, accepting.accepts());
        Instant bearing = clock.orElse(view.asOf());
        List<Evaluation> served = all.answers().stream()
                .filter(e -> e.database().isServedAt(view.asOf()))
                .toList();
        List<Watch.Next> next = next(all, served, view.asOf());
        return new Watch(
                view.asOf(),
                zone(served).getId(),
                served.size(),
                found.stream().map(f -> rows.row(f, bearing)).toList(),
                new Nights(served, view.asOf(), zone(served)).last(),
                running(all, served, bearing),
                clock.map(now -> ordered(served, now)).orElse(List.of()),
                next,
                logs(all, served),
                glance(served, view.asOf(), next),
                since(all.fleet(), looked, bearing));
    }

    /** Somebody looked: what is found at this moment has been seen, when it began and when it is gone. */
    void looked() {
        Instant now = lookout.now();
        Lookout.View view = lookout.view("", "");
        findings.noted(findings.now(evaluations.fleetNow(), findings.conditions(view), view.asOf(), now), now);
    }

    /** Of the present they are kept; as of another moment they follow from the answers that are there. */
    private List<Condition> conditions(Evaluations.Fleetwide all, Lookout.View view) {
        return view.present()
                ? findings.conditions(view)
                : all.answers().parallelStream()
                        .map(e -> findings.condition(all.fleet(), e))
                        .toList();
    }

    private static ZoneId zone(List<Evaluation> served) {
        return served.stream()
                .collect(Collectors.groupingBy(e -> e.database().zone(), Collectors.counting()))
                .entrySet()
                .stream()
                .max(Map.Entry.<ZoneId, Long>comparingByValue()
                        .thenComparing(e -> e.getKey().getId()))
                .map(Map.Entry::getKey)
                .orElse(ZoneId.of("UTC"));
    }

    private List<Watch.Running> running(Evaluations.Fleetwide all, List<Evaluation> served, Instant asOf) {
        List<Watch.Running> out = new ArrayList<>();
        for (Evaluation e : served) {
            for (Attempt a : Attempts.known(e.history(), asOf, EnumSet.allOf(Kind.class))) {
                if (a.state() == Attempt.Progress.RUNNING) {
                    Optional<Usual> usual = following.basis(all, e).habits().usual(a.kind());
                    out.add(new Watch.Running(
                            e.database().id(),
                            e.database().name(),
                            a.kind().word(),
                            a.id(),
                            a.started(),
                            usual.map(u -> a.started().plus(u.median())).orElse(null),
                            usual.map(Usual::bytes).filter(b -> b > 0).orElse(null),
                            Courses.progress(e.history(), a.id()).orElse(null)));
                }
            }
        }
        out.sort(Comparator.comparing(Watch.Running::started));
        return out;
    }

    private List<Watch.Awaited> ordered(List<Evaluation> served, Instant now) {
        List<Watch.Awaited> out = new ArrayList<>();
        for (Order o : orders.wanted(now)) {
            served.stream()
                    .filter(e -> e.database().id().equals(o.database()) && Orders.isOpen(o, e.history()))
                    .findFirst()
                    .ifPresent(e -> out.add(new Watch.Awaited(
                            o.id(), o.database(), e.database().name(), o.kind().word(), o.at(), o.by())));
        }
        return out;
    }

    private List<Watch.Next> next(Evaluations.Fleetwide all, List<Evaluation> served, Instant asOf) {
        Span ahead = new Span(asOf, asOf.plus(AHEAD));
        return served.parallelStream()
                .filter(e -> e.version().filter(PolicyVersion::enabled).isPresent())
                .flatMap(e -> {
                    Habits habits = following.basis(all, e).habits();
                    return Expected.of(all.facts(e), all.fleet().fleet(), habits, asOf, ahead).stream()
                            .filter(x -> !x.off()
                                    && x.slot().verdict() != SlotVerdict.SUPERSEDED
                                    && x.slot().verdict() != SlotVerdict.EXCUSED)
                            .map(x -> new Watch.Next(
                                    e.database().id(),
                                    e.database().name(),
                                    x.slot().kind().word(),
                                    x.slot().open(),
                                    x.slot().close(),
                                    x.usual()
                                            .map(u -> CoverRows.seconds(u.median()))
                                            .orElse(null)));
                })
                .sorted(Comparator.comparing(Watch.Next::open).thenComparing(Watch.Next::name))
                .toList();
    }

    private Watch.Logs logs(Evaluations.Fleetwide all, List<Evaluation> served) {
        Map<Duration, Integer> every = new TreeMap<>();
        int streamed = 0;
        for (Evaluation e : served) {
            boolean flows = following.basis(all, e).habits().logs().streamed();
            streamed += flows ? 1 : 0;
            if (!flows) {
                e.version().filter(PolicyVersion::enabled).stream()
                        .flatMap(v -> v.live().stream())
                        .flatMap(s -> s.every().stream())
                        .min(Comparator.naturalOrder())
                        .ifPresent(d -> every.merge(d, 1, Integer::sum));
            }
        }
        return new Watch.Logs(
                every.entrySet().stream()
                        .map(e -> new Watch.Every(CoverRows.seconds(e.getKey()), e.getValue()))
                        .toList(),
                streamed);
    }

    private static Watch.AtAGlance glance(List<Evaluation> served, Instant asOf, List<Watch.Next> next) {
        Watch.Moment good = null;
        Watch.Moment bad = null;
        long now = asOf.toEpochMilli();
        for (Evaluation e : served) {
            Database d = e.database();
            History h = e.history();
            for (int i : h.others()) {
                Instant ended = Instant.ofEpochMilli(h.endedMs(i));
                if (h.kind(i).isData() && h.endedMs(i) <= now && (good == null || ended.isAfter(good.at()))) {
                    good = new Watch.Moment(d.id(), d.name(), h.kind(i).word(), ended);
                }
            }
            for (List<Run> failed : List.of(h.failedDataRuns(), h.failedLogRuns())) {
                for (Run r : failed) {
                    Instant ended = r.ended().orElse(r.started());
                    if (!ended.isAfter(asOf) && (bad == null || ended.isAfter(bad.at()))) {
                        bad = new Watch.Moment(d.id(), d.name(), r.kind().word(), ended);
                    }
                }
            }
        }
        Watch.Moment comes = next.stream()
                .filter(n -> !n.open().isBefore(asOf))
                .findFirst()
                .map(n -> new Watch.Moment(n.database(), n.name(), n.kind(), n.open()))
                .orElse(null);
        return new Watch.AtAGlance(good, bad, comes);
    }

    private Watch.@Nullable Since since(FleetNow fleet, @Nullable String looked, Instant to) {
        if (looked == null || looked.isEmpty()) {
            return null;
        }
        Instant after = Lookout.instant("looked", looked);
        List<Watch.Moved> began = new ArrayList<>();
        List<Watch.Moved> ended = new ArrayList<>();
        for (Lives.Life life : facts.store().lives().movedBetween(after, to)) {
            boolean gone =
                    life.gone().filter(g -> g.isAfter(after) && !g.isAfter(to)).isPresent();
            if (gone) {
                ended.add(moved(fleet, life, life.gone().orElse(to)));
            } else {
                began.add(moved(fleet, life, life.first()));
            }
        }
        List<Watch.VersionInForce> policies = new ArrayList<>();
        for (String id : fleet.fleet().policies()) {
            for (PolicyVersion v : fleet.fleet().versions(id)) {
                if (v.effectiveFrom().isAfter(after) && !v.effectiveFrom().isAfter(to)) {
                    policies.add(new Watch.VersionInForce(id, v.name(), v.version(), v.effectiveFrom()));
                }
            }
        }
        policies.sort(Comparator.comparing(Watch.VersionInForce::at));
        return new Watch.Since(after, began, ended, policies);
    }

    private static Watch.Moved moved(FleetNow fleet, Lives.Life life, Instant at) {
        String names = List.of(life.databases().split(",")).stream()
                .map(d -> WatchRows.name(fleet, d))
                .collect(Collectors.joining(", "));
        return new Watch.Moved(life.key(), life.severity(), names, life.title(), at);
    }
}
