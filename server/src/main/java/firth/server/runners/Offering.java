package firth.server.runners;

import firth.core.evaluation.Evaluation;
import firth.core.findings.WayOut;
import firth.core.forecast.Trial;
import firth.core.history.DatabaseFacts;
import firth.core.history.Stated;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.Order;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.exchange.StatedRecords;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.wording.Wording;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Which backups can be started now, what each would cost and give; and ordering one. */
@ApplicationScoped
class Offering {
    private static final List<Kind> KINDS = List.of(Kind.INCR, Kind.DIFF, Kind.FULL, Kind.CONFIG);

    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final ByHand byHand;
    private final Who who;

    Offering(
            Evaluations evaluations, FindingsNow findings, FactsHolder facts, Lookout lookout, ByHand byHand, Who who) {
        this.evaluations = evaluations;
        this.findings = findings;
        this.facts = facts;
        this.lookout = lookout;
        this.byHand = byHand;
        this.who = who;
    }

    /** What can be started, with what it would cost and give. */
    RunnerWork.Offers offers(String id) {
        Evaluations.Fleetwide one = evaluations.one(id, lookout.view("", ""));
        Evaluation e = one.answers().get(0);
        DatabaseFacts known = one.facts(e);
        Trial trial = new Trial(known, one.fleet().fleet(), e.asOf());
        List<WayOut> waysOut = findings.of(one, e).stream()
                .flatMap(f -> f.waysOut().stream())
                .filter(w -> w.action() == WayOut.Action.TAKE)
                .toList();
        List<RunnerWork.Offer> out = new ArrayList<>();
        for (Kind kind : likeliest(e, trial, waysOut)) {
            Trial.Plan plan = trial.plan(kind);
            boolean hangs =
                    kind == Kind.FULL || kind == Kind.CONFIG || plan.parent().isPresent();
            for (String store : hangs ? trial.storesFor(kind) : List.<String>of()) {
                Optional<WayOut> way = waysOut.stream()
                        .filter(w -> w.kind().filter(k -> k == kind).isPresent()
                                && w.store().equals(store))
                        .findFirst();
                out.add(new RunnerWork.Offer(
                        kind.word(),
                        store,
                        one.fleet().storeName(store),
                        CoverRows.seconds(plan.takes()),
                        plan.bytes(),
                        plan.parent().orElse(null),
                        way.map(w -> gives(e, w)).orElse(gives(kind))));
            }
        }
        String runner = e.database()
                .particulars()
                .host()
                .filter(h -> Optional.ofNullable(facts.store().runners().all().get(h))
                        .filter(r -> !r.isSilentAt(lookout.now()))
                        .isPresent())
                .orElse(null);
        return new RunnerWork.Offers(id, e.database().name(), runner, out);
    }

    /** The kinds it takes: first what ends a finding, then what it takes most often. A full can always be taken. */
    private static List<Kind> likeliest(Evaluation e, Trial trial, List<WayOut> waysOut) {
        List<Kind> ending = waysOut.stream()
                .filter(WayOut::ends)
                .flatMap(w -> w.kind().stream())
                .distinct()
                .toList();
        Map<Kind, Long> taken = e.history().others().stream()
                .mapToObj(e.history()::kind)
                .collect(Collectors.groupingBy(Function.identity(), Collectors.counting()));
        Set<Kind> scheduled = e.version().filter(PolicyVersion::enabled).stream()
                .flatMap(v -> v.live().stream())
                .map(Schedule::kind)
                .collect(Collectors.toSet());
        return KINDS.stream()
                .filter(k -> k == Kind.FULL
                        || scheduled.contains(k)
                        || trial.habits().usual(k).isPresent())
                .sorted(Comparator.comparing((Kind k) -> ending.contains(k) ? ending.indexOf(k) : ending.size())
                        .thenComparing(k -> k == Kind.CONFIG)
                        .thenComparing(k -> -taken.getOrDefault(k, 0L)))
                .toList();
    }

    private static String gives(Kind kind) {
        return switch (kind) {
            case FULL -> "A way back of its own from then on.";
            case CONFIG -> "The configuration as it is then, for a restore to find.";
            default -> "A newer way back, for as long as what it hangs from is there.";
        };
    }

    private static String gives(Evaluation e, WayOut way) {
        if (!way.ends()) {
            return "Cover does not resume.";
        }
        return "Cover resumes at " + Wording.moment(way.resumes(), e.database().zone())
                + way.stays()
                        .map(s -> "; the hole from "
                                + Wording.shortMoment(s.from(), e.database().zone()) + " stays"
                                + way.leaves()
                                        .map(l -> " until "
                                                + Wording.shortMoment(
                                                        l, e.database().zone()))
                                        .orElse(""))
                        .orElse("")
                + ".";
    }

    /** Orders one. A hold keeps its backup where that is asked for. */
    RunnerWork.OrderedRun start(String id, RunnerWork.Start wanted) {
        evaluations.one(id, lookout.view("", ""));
        Instant now = lookout.now();
        Kind kind = Arrays.stream(Kind.values())
                .filter(k -> k.word().equals(wanted.kind()))
                .findFirst()
                .orElseThrow(() -> new BadRequest("kind", "is none of full, diff, incr, log, config"));
        if (wanted.reason().isBlank()) {
            throw new BadRequest("reason", "is missing: why is it wanted?");
        }
        if (wanted.keepUntil() != null && !wanted.keepUntil().isAfter(now)) {
            throw new BadRequest("keepUntil", "is not in the future");
        }
        String order = "hand:" + id + ":"
                + UUID.randomUUID().toString().substring(0, 8).toLowerCase(Locale.ROOT);
        String reason = wanted.reason().strip();
        List<Stated> stated = new ArrayList<>();
        stated.add(StatedRecords.of(
                new Order(order, id, kind, said(wanted.store()), now, who.name(), reason, said(wanted.name()))));
        if (wanted.keepUntil() != null) {
            stated.add(StatedRecords.of(new Hold(
                    order + ":hold",
                    Optional.of(order + ":backup"),
                    Optional.empty(),
                    Optional.empty(),
                    reason,
                    "",
                    Optional.of(now),
                    Optional.of(wanted.keepUntil()))));
        }
        byHand.take(stated);
        return new RunnerWork.OrderedRun(order);
    }

    private static Optional<String> said(@Nullable String text) {
        return Optional.ofNullable(text).map(String::strip).filter(t -> !t.isEmpty());
    }
}
