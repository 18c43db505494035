package firth.server.watch;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.model.Database;
import firth.core.model.Order;
import firth.core.model.PolicyVersion;
import firth.server.cover.CoverPart;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.platform.FactsHolder;
import firth.server.runners.Orders;
import firth.store.Lives;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The morning watch of a moment. */
@ApplicationScoped
class Morning {

    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final Summaries summaries;
    private final MorningPart part;
    private final CoverPart coverPart;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final Orders orders;
    private final Accepting accepting;

    Morning(
            Evaluations evaluations,
            FindingsNow findings,
            Summaries summaries,
            MorningPart part,
            CoverPart coverPart,
            Lookout lookout,
            FactsHolder facts,
            Orders orders,
            Accepting accepting) {
        this.evaluations = evaluations;
        this.findings = findings;
        this.summaries = summaries;
        this.part = part;
        this.coverPart = coverPart;
        this.lookout = lookout;
        this.facts = facts;
        this.orders = orders;
        this.accepting = accepting;
    }

    /** @param looked when this person last looked, an RFC 3339 instant; absent: never */
    Watch watch(@Nullable String asOf, @Nullable String period, @Nullable String looked) {
        boolean looksBack = Lookout.looksBack(asOf);
        Lookout.View view = lookout.view(asOf, period);
        Parts<MorningPart.Dawn> all = summaries.all(view, part);
        Map<String, CoverPart.Strip> strips = new HashMap<>();
        Parts<CoverPart.Strip> cover = summaries.all(view, coverPart);
        for (int i = 0; i < cover.databases().size(); i++) {
            strips.put(cover.databases().get(i).id(), cover.each().get(i));
        }
        Optional<Instant> clock = looksBack ? Optional.empty() : Optional.of(lookout.now());
        List<Finding> found = findings.all(all.now(), findings.conditions(view), view.asOf(), clock);
        Map<String, Instant> seen = looksBack ? Map.of() : findings.seen();
        WatchRows rows = new WatchRows(
                all.now(),
                id -> Optional.ofNullable(strips.get(id)).flatMap(CoverPart.Strip::row),
                seen,
                accepting.accepts());
        Instant bearing = clock.orElse(view.asOf());
        List<MorningPart.Dawn> served = all.each().stream()
                .filter(d -> d.database().isServedAt(view.asOf()))
                .toList();
        List<Watch.Next> next = next(served, view.asOf());
        return new Watch(
                view.asOf(),
                zone(served).getId(),
                served.size(),
                found.stream().map(f -> rows.row(f, bearing)).toList(),
                new Nights(served, view.asOf(), zone(served)).last(),
                served.stream()
                        .flatMap(d -> d.running().stream())
                        .sorted(Comparator.comparing(Watch.Running::started))
                        .toList(),
                clock.map(now -> ordered(view, now)).orElse(List.of()),
                next,
                logs(served),
                glance(served, view.asOf(), next),
                since(all.now(), looked, bearing));
    }

    /** Somebody looked: what is found at this moment has been seen, when it began and when it is gone. */
    void looked() {
        Instant now = lookout.now();
        Lookout.View view = lookout.view("", "");
        findings.noted(findings.now(evaluations.fleetNow(), findings.conditions(view), view.asOf(), now), now);
    }

    private static ZoneId zone(List<MorningPart.Dawn> served) {
        return served.stream()
                .collect(Collectors.groupingBy(d -> d.database().zone(), Collectors.counting()))
                .entrySet()
                .stream()
                .max(Map.Entry.<ZoneId, Long>comparingByValue()
                        .thenComparing(e -> e.getKey().getId()))
                .map(Map.Entry::getKey)
                .orElse(ZoneId.of("UTC"));
    }

    /** What is ordered is seldom of more than a few databases. */
    private List<Watch.Awaited> ordered(Lookout.View view, Instant now) {
        List<Order> wanted = orders.wanted(now);
        if (wanted.isEmpty()) {
            return List.of();
        }
        Set<String> names = wanted.stream().map(Order::database).collect(Collectors.toSet());
        List<Watch.Awaited> out = new ArrayList<>();
        for (Evaluation e : evaluations.some(names, view).answers()) {
            Database d = e.database();
            wanted.stream()
                    .filter(o -> o.database().equals(d.id()) && d.isServedAt(view.asOf()))
                    .filter(o -> Orders.isOpen(o, e.history()))
                    .forEach(o -> out.add(
                            new Watch.Awaited(o.id(), d.id(), d.name(), o.kind().word(), o.at(), o.by())));
        }
        out.sort(Comparator.comparing(Watch.Awaited::at).thenComparing(Watch.Awaited::run));
        return out;
    }

    private static List<Watch.Next> next(List<MorningPart.Dawn> served, Instant asOf) {
        return served.stream()
                .flatMap(d -> d.next().stream())
                .filter(n -> !n.open().isBefore(asOf) && n.open().isBefore(asOf.plus(MorningPart.AHEAD)))
                .sorted(Comparator.comparing(Watch.Next::open).thenComparing(Watch.Next::name))
                .toList();
    }

    private static Watch.Logs logs(List<MorningPart.Dawn> served) {
        Map<Duration, Integer> every = new TreeMap<>();
        served.forEach(d -> d.every().ifPresent(x -> every.merge(x, 1, Integer::sum)));
        return new Watch.Logs(
                every.entrySet().stream()
                        .map(e -> new Watch.Every(CoverRows.seconds(e.getKey()), e.getValue()))
                        .toList(),
                (int) served.stream().filter(MorningPart.Dawn::streamed).count());
    }

    private static Watch.AtAGlance glance(List<MorningPart.Dawn> served, Instant asOf, List<Watch.Next> next) {
        return new Watch.AtAGlance(
                newest(served.stream().flatMap(d -> d.lastGood().stream())),
                newest(served.stream().flatMap(d -> d.lastFailed().stream())),
                next.stream()
                        .filter(n -> !n.open().isBefore(asOf))
                        .findFirst()
                        .map(n -> new Watch.Moment(n.database(), n.name(), n.kind(), n.open()))
                        .orElse(null));
    }

    /** The newest; of several at one moment the first. */
    private static Watch.@Nullable Moment newest(Stream<Watch.Moment> moments) {
        return moments.reduce((one, other) -> other.at().isAfter(one.at()) ? other : one)
                .orElse(null);
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
