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

    /** Of what lists are long the first are shown. */
    private static final int LISTED = 40;

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
        Found found = found(view, looksBack);
        Instant bearing = found.at;
        List<MorningPart.Dawn> served = all.each().stream()
                .filter(d -> d.database().isServedAt(view.asOf()))
                .toList();
        List<Watch.Next> next = next(served, view.asOf());
        return new Watch(
                view.asOf(),
                zone(served).getId(),
                served.size(),
                found.shown.counts(),
                found.shown.findings().stream()
                        .map(f -> found.rows.row(f, bearing))
                        .toList(),
                found.shown.folds(),
                new Nights(served, view.asOf(), zone(served)).last(),
                served.stream()
                        .flatMap(d -> d.running().stream())
                        .sorted(Comparator.comparing(Watch.Running::started))
                        .limit(LISTED)
                        .toList(),
                served.stream().mapToInt(d -> d.running().size()).sum(),
                looksBack ? List.of() : ordered(view, bearing),
                next.stream().limit(LISTED).toList(),
                next.size(),
                logs(served),
                glance(served, view.asOf(), next),
                since(all.now(), looked, bearing));
    }

    /** What was found, how it is shown, and the moment at which things are borne. */
    private record Found(List<Finding> all, Shown shown, WatchRows rows, Instant at) {}

    private Found found(Lookout.View view, boolean looksBack) {
        Parts<CoverPart.Sliver> cover = summaries.all(view, coverPart);
        Map<String, CoverPart.Sliver> strips = new HashMap<>();
        for (int i = 0; i < cover.databases().size(); i++) {
            strips.put(cover.databases().get(i).id(), cover.each().get(i));
        }
        Optional<Instant> clock = looksBack ? Optional.empty() : Optional.of(lookout.now());
        Instant at = clock.orElse(view.asOf());
        List<Finding> all = findings.all(cover.now(), findings.conditions(view), view.asOf(), clock);
        WatchRows rows = new WatchRows(
                cover.now(),
                id -> Optional.ofNullable(strips.get(id)).flatMap(CoverPart.Sliver::row),
                looksBack ? Map.of() : findings.seen(),
                accepting.accepts());
        return new Found(all, new Shown(all, f -> rows.borne(f, at).isPresent(), cover.now()::databaseName), rows, at);
    }

    /** Findings of one kind that nobody bears, in order, from one on. */
    List<Watch.FindingView> more(
            @Nullable String asOf, @Nullable String period, String code, String severity, int from, int most) {
        Found found = found(lookout.view(asOf, period), Lookout.looksBack(asOf));
        return found.all.stream()
                .filter(f -> f.code().equals(code) && f.severity().word().equals(severity))
                .filter(f -> found.rows.borne(f, found.at).isEmpty())
                .skip(from)
                .limit(most)
                .map(f -> found.rows.row(f, found.at))
                .toList();
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
        return new Watch.Since(
                after,
                began.stream().limit(LISTED).toList(),
                began.size(),
                ended.stream().limit(LISTED).toList(),
                ended.size(),
                policies);
    }

    private static Watch.Moved moved(FleetNow fleet, Lives.Life life, Instant at) {
        String names = List.of(life.databases().split(",")).stream()
                .map(d -> WatchRows.name(fleet, d))
                .collect(Collectors.joining(", "));
        return new Watch.Moved(life.key(), life.severity(), names, life.title(), at);
    }
}
