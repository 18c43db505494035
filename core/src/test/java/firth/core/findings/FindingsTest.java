package firth.core.findings;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Gap;
import firth.core.cover.Hole;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.evaluation.Reach;
import firth.core.findings.Finding.Severity;
import firth.core.forecast.Habits;
import firth.core.forecast.Regular;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Accept;
import firth.core.model.CopiesRule;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.core.model.Run;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class FindingsTest {

    private static final double NOW = 25.5;
    private static final Regular REGULAR = new Regular(0);
    private static final PolicyVersion RULES = Regular.policy(
            new Objective(
                    Map.of(Hazard.MISHAP, Duration.ofHours(2), Hazard.SITE_LOSS, Duration.ofHours(4)),
                    Optional.of(Duration.ofDays(14))),
            List.of(Regular.keeping(Role.NEAR, 14, 2), Regular.keeping(Role.FAR, 14, 2)));

    private interface Keeps {
        boolean copy(History h, int i, String store);
    }

    /** The clockwork database with only some of its copies, and with runs that failed. */
    private static DatabaseFacts with(Keeps keeps, Run... failed) {
        History all = REGULAR.facts(NOW).history();
        HistoryBuilder out = History.of(REGULAR.database);
        for (int i = 0; i < all.size(); i++) {
            List<Integer> kept = new ArrayList<>();
            for (int c = all.firstCopy(i); c < all.firstCopy(i + 1); c++) {
                if (keeps.copy(all, i, all.store(c))) {
                    kept.add(c);
                }
            }
            if (!kept.isEmpty()) {
                out.add(all.row(i));
                kept.forEach(c -> copy(out, all.store(c), all.landedMs(c), all.bytes(c)));
            }
        }
        for (Run r : failed) {
            out.add(r);
        }
        return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
    }

    private static void row(
            HistoryBuilder out,
            String id,
            Kind kind,
            String parent,
            long started,
            long ended,
            long from,
            long to,
            long fromTime,
            long toTime) {
        out.add(
                kind == Kind.LOG
                        ? BackupRow.log(id, 0, new BackupRow.Extent(from, to, fromTime, toTime))
                                .taken(started, ended)
                        : BackupRow.data(id, kind, started, ended).on(parent).between(from, to));
    }

    private static void copy(HistoryBuilder out, String store, long landed, double bytes) {
        out.addCopy(store, CopyRow.landed(landed, bytes));
    }

    private static Run failed(String id, Kind kind, double at, String message) {
        return new Run(id, "d", kind, day(at), Optional.of(day(at)), Outcome.FAILED, Optional.of(message), "");
    }

    private static Evaluation evaluate(DatabaseFacts facts, PolicyVersion... rules) {
        return Evaluation.of(facts, Regular.fleet(rules), day(NOW), new Span(day(NOW - 20), day(NOW)));
    }

    private static List<Finding> found(DatabaseFacts facts, PolicyVersion... rules) {
        return Findings.of(evaluate(facts, rules), facts, Regular.fleet(rules));
    }

    private static Finding only(String code, List<Finding> all) {
        List<Finding> those = all.stream().filter(f -> f.code().equals(code)).toList();
        assertEquals(
                1,
                those.size(),
                code + " among " + all.stream().map(Finding::code).toList());
        return those.get(0);
    }

    private static boolean logAfter(History h, int i, double day) {
        return h.kind(i) == Kind.LOG && h.toTimeMs(i) > day(day).toEpochMilli();
    }

    private static final DatabaseFacts SOUND = with((h, i, s) -> true);

    /** No log since half a day. */
    private static DatabaseFacts silent(Run... failed) {
        return with((h, i, s) -> !logAfter(h, i, NOW - 0.5), failed);
    }

    private static final DatabaseFacts HOLED =
            with((h, i, s) -> !logAfter(h, i, NOW - 0.3) || logAfter(h, i, NOW - 0.2));

    @Test
    void findsNothingWrongWhereNothingIs() {
        assertEquals(List.of(), found(SOUND, RULES));
    }

    @Test
    void aDatabaseBehindNamesWhatFailedAndLetsTheBacklogCloseTheHole() {
        Finding f = only(
                "behind",
                found(
                        silent(
                                failed("r1", Kind.LOG, NOW - 0.4, "d: no room"),
                                failed("r2", Kind.LOG, NOW - 0.3, "d: no room")),
                        RULES));
        assertEquals(Severity.BEHIND, f.severity());
        assertEquals("failing:…: no room", f.about());
        Failing failing = f.detail().failing().orElseThrow();
        assertEquals(2, failing.runs());
        assertEquals(Optional.of("d: no room"), failing.message());
        assertEquals(WayOut.Action.CATCH_UP, f.waysOut().get(0).action());
        assertEquals(Optional.empty(), f.waysOut().get(0).stays());
        assertEquals(List.of("r2", "r1"), f.facts());
    }

    @Test
    void logsAfterAHoleNeedADataBackupAndTheHoleStays() {
        Finding f = only("behind", found(HOLED, RULES));
        WayOut best = f.waysOut().get(0);
        assertEquals(Optional.of(Kind.INCR), best.kind());
        assertTrue(best.ends());
        assertEquals(
                best.stays().orElseThrow().to().plus(Duration.ofDays(14)),
                best.leaves().orElseThrow());
        assertFalse(f.waysOut().stream()
                .filter(w -> w.action() == WayOut.Action.CATCH_UP)
                .allMatch(WayOut::ends));
    }

    @Test
    void noDateIsNamedThatNobodyForesees() {
        Duration ages = Duration.ofDays(11_000L * 366);
        Instant now = Instant.parse("2026-11-20T00:00:00Z");
        assertEquals(Optional.empty(), reach(ages).leaves(now, new RunningTime(Spans.NONE)));
        Instant stops = now.plus(Duration.ofDays(1));
        Spans stopped =
                Spans.of(stops.toEpochMilli(), stops.plus(Duration.ofDays(3)).toEpochMilli());
        assertEquals(
                Optional.of(now.plus(Duration.ofDays(17))),
                reach(Duration.ofDays(14)).leaves(now, new RunningTime(stopped)));
        Spans forGood = Spans.of(stops.toEpochMilli(), Spans.FOREVER);
        assertEquals(Optional.empty(), reach(Duration.ofDays(14)).leaves(now, new RunningTime(forGood)));
    }

    private static Reach reach(Duration target) {
        return new Reach(Optional.of(target), Duration.ZERO, Optional.empty(), Optional.empty());
    }

    @Test
    void nothingLeftIsStrandedAndOnlyAFullHelps() {
        DatabaseFacts none = with(
                (h, i, s) -> !h.kind(i).isData() || h.kind(i) == Kind.INCR,
                failed("r", Kind.FULL, NOW - 0.1, "denied"));
        Finding f = only("stranded", found(none, RULES));
        assertEquals(
                List.of(Kind.FULL),
                f.waysOut().stream().flatMap(w -> w.kind().stream()).distinct().toList());
        assertTrue(f.detail() instanceof Detail.NothingRestorable, f.toString());
    }

    /** What each way out foretells, against the facts with just that done and evaluated by themselves. */
    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void evaluatingWithTheActionDoneGivesWhatWasForetold(boolean hole) {
        DatabaseFacts facts = hole ? HOLED : silent();
        Fleet fleet = Regular.fleet(RULES);
        List<WayOut> ways = only("behind", Findings.of(evaluate(facts, RULES), facts, fleet))
                .waysOut();
        assertTrue(ways.size() >= 4, ways.toString());
        for (WayOut way : ways) {
            Evaluation after =
                    Evaluation.of(done(facts, way), fleet, way.resumes(), new Span(way.resumes(), way.resumes()));
            boolean over = after.grade() != Grade.STRANDED && !after.mishap().isMissed();
            assertEquals(over, way.ends(), way.toString());
            if (way.ends()) {
                Instant point = way.kind().isPresent() ? way.resumes() : day(NOW);
                assertEquals(point, after.mishap().recoveryPoint().orElseThrow(), way.toString());
                List<Hole> holes = Hole.between(
                        after.mishap().restorable(), REGULAR.database.inServiceFrom(), way.resumes(), after.gaps());
                Optional<Span> last = holes.stream()
                        .filter(h -> h.where() == Hole.Where.BETWEEN && h.to().isAfter(day(NOW - 1)))
                        .reduce((one, other) -> other)
                        .map(h -> new Span(h.from(), h.to()));
                assertEquals(last, way.stays(), way.toString());
            }
        }
    }

    /** Just what a way out says was done, written down by hand: the clockwork writes seven positions a second. */
    private static DatabaseFacts done(DatabaseFacts facts, WayOut way) {
        History known = facts.history();
        HistoryBuilder out = History.of(REGULAR.database);
        long now = day(NOW).toEpochMilli();
        long end = way.resumes().toEpochMilli();
        String newest = "";
        long lastTo = 0;
        long lastTime = 0;
        for (int i = 0; i < known.size(); i++) {
            boolean log = known.kind(i) == Kind.LOG;
            long to = log ? known.logTo(i) : known.to(i, 0);
            out.add(known.row(i));
            for (int c = known.firstCopy(i); c < known.firstCopy(i + 1); c++) {
                copy(out, known.store(c), known.landedMs(c), known.bytes(c));
            }
            if (log && to > lastTo) {
                lastTo = to;
                lastTime = known.toTimeMs(i);
            }
            newest = log ? newest : known.id(i);
        }
        boolean come = now - lastTime < Duration.ofHours(2).toMillis();
        if (way.kind().isPresent()) {
            row(
                    out,
                    "by-hand",
                    way.kind().get(),
                    way.kind().get() == Kind.INCR ? newest : "",
                    now,
                    end,
                    at(now),
                    at(end),
                    0,
                    0);
            copy(out, way.store(), end, 1);
            row(out, "meanwhile", Kind.LOG, "", now, end, come ? lastTo : at(now), at(end), come ? lastTime : now, end);
        } else {
            row(out, "backlog", Kind.LOG, "", now, end, lastTo, at(now), lastTime, now);
        }
        copy(out, way.store(), end, 1);
        return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
    }

    private static long at(long moment) {
        return (moment - Regular.START.toEpochMilli()) / 1000 * 7;
    }

    @Test
    void copiesThatLagAreCopiedOn() {
        Finding f = only(
                "site-loss-missed",
                found(
                        with((h, i, s) ->
                                s.equals("near") || h.endedMs(i) < day(NOW - 2).toEpochMilli()),
                        RULES));
        assertEquals(Severity.HAZARD_MISSED, f.severity());
        assertEquals("far", f.about());
        assertEquals(WayOut.Action.COPY, f.waysOut().get(0).action());
        assertTrue(f.waysOut().get(0).ends());
        assertEquals(Hazard.SITE_LOSS, ((Detail.HazardMissed) f.detail()).hazard());
    }

    @Test
    void aBridgedHoleInsideReachCannotBeRepairedAndGoesByItself() {
        DatabaseFacts facts = with((h, i, s) -> !logAfter(h, i, NOW - 6.5) || logAfter(h, i, NOW - 6));
        Finding f = only("hole-in-reach", found(facts, RULES));
        assertEquals(Severity.BRIDGED_GAP, f.severity());
        Detail.HoleInReach hole = (Detail.HoleInReach) f.detail();
        assertEquals(hole.to().plus(Duration.ofDays(14)), hole.leaves().orElseThrow());
        assertEquals(Gap.Cause.NEVER_BACKED_UP, hole.logs().orElseThrow().gap().cause());
    }

    @Test
    void slotsThatAreNotKeptAreCountedUpToTheLast() {
        DatabaseFacts facts = with((h, i, s) ->
                h.kind(i) != Kind.INCR || h.startedMs(i) < day(NOW - 3).toEpochMilli());
        Finding f = only("slot-missed", found(facts, RULES));
        assertEquals(3, ((Detail.SlotNotKept) f.detail()).inARow());
        Run[] tries = {failed("a", Kind.INCR, day22(23), "x"), failed("b", Kind.INCR, day22(24), "x")};
        DatabaseFacts tried = with(
                (h, i, s) ->
                        h.kind(i) != Kind.INCR || h.startedMs(i) < day(NOW - 3).toEpochMilli(),
                tries);
        Finding last = only("slot-failed", found(tried, RULES));
        Detail.SlotNotKept notKept = (Detail.SlotNotKept) last.detail();
        assertEquals(Kind.INCR, notKept.kind());
        assertEquals(3, notKept.inARow());
        assertEquals(Optional.of("x"), notKept.failing().flatMap(Failing::message));
    }

    @Test
    void sinceIsWhenItBeganNotWhenThePeriodDid() {
        DatabaseFacts facts = with((h, i, s) -> h.endedMs(i) < day(NOW - 10).toEpochMilli());
        Finding wide = only("behind", found(facts, RULES));
        Evaluation narrow = Evaluation.of(facts, Regular.fleet(RULES), day(NOW), new Span(day(NOW - 2), day(NOW)));
        Finding own = only("behind", Findings.of(narrow, facts, Regular.fleet(RULES)));
        assertEquals(wide.since(), own.since());
        assertTrue(own.since().orElseThrow().isBefore(day(NOW - 2)), own.since().toString());
    }

    private static double day22(int day) {
        return day + 22 / 24.0;
    }

    @Test
    void aSizeFarFromTheUsualIsSaidWithTheComparison() {
        HistoryBuilder out = History.of(REGULAR.database);
        History known = SOUND.history();
        int[] newest = {-1};
        for (int i : known.others()) {
            newest[0] = known.kind(i) == Kind.INCR ? i : newest[0];
        }
        out.addAll(known, i -> {
            if (i == newest[0]) {
                copy(out, "far", known.endedMs(i), 9 * Habits.bytes(known, i));
            }
        });
        DatabaseFacts facts = new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
        Finding f = only("unusual-size", found(facts, RULES));
        Detail.Unusual unusual = (Detail.Unusual) f.detail();
        assertEquals(45e9, unusual.figures().own(), 1);
        assertEquals(5e9, unusual.figures().median(), 1);
    }

    @Test
    void copiesThatAreMissingForADayAndCopiesNoRuleSpeaksOf() {
        List<Finding> all = found(
                with((h, i, s) -> s.equals("near")),
                Regular.policy(Objective.NONE, List.of(Regular.keeping(Role.NEAR, 14, 2)))
                        .with(new CopiesRule(2, 0, 0, 0)));
        assertEquals(Severity.RULE_BROKEN, only("copies-lacking", all).severity());
        Finding noRule = only(
                "no-rule", found(SOUND, Regular.policy(Objective.NONE, List.of(Regular.keeping(Role.NEAR, 14, 2)))));
        assertEquals(List.of("far"), ((Detail.NoRule) noRule.detail()).stores());
        assertEquals("no-policy", found(SOUND).get(0).code());
    }

    @Test
    void whatManyShareIsOneAndTheWorstStandsFirst() {
        Finding one = Finding.of(
                "behind", Severity.BEHIND, "a", "failing:x", Optional.of(day(3)), new Detail.NoPolicy(), List.of("r1"));
        Finding other = Finding.of(
                "behind", Severity.BEHIND, "b", "failing:x", Optional.of(day(2)), new Detail.NoPolicy(), List.of("r2"));
        Finding alone = Finding.of(
                "stranded", Severity.STRANDED, "c", "c", Optional.of(day(9)), new Detail.NoPolicy(), List.of());
        List<Finding> all = new Together().of(Map.of(), List.of(one, alone, other), Map.of("a", "Alpha"));
        assertEquals(
                List.of("stranded", "behind"), all.stream().map(Finding::code).toList());
        assertEquals(List.of("b", "a"), all.get(1).databases());
        assertEquals(List.of("Alpha"), all.get(1).befallsToo());
        assertEquals(List.of("r2", "r1"), all.get(1).facts());
    }

    @Test
    void whatASourceNoLongerTellsIsSaidAfterADayToTheSecond() {
        Instant newest = day(1);
        assertEquals(
                Optional.empty(), FactFindings.ofSource("s", newest, newest.plus(Duration.ofDays(1)), List.of("d")));
        Finding f = FactFindings.ofSource(
                        "s", newest, newest.plus(Duration.ofDays(1)).plusSeconds(1), List.of("d"))
                .orElseThrow();
        assertEquals(Optional.of(newest.plus(Duration.ofDays(1))), f.since());
    }

    @Test
    void whatIsNotReadyIsFoundUnlessTheStoreSaidSoAlready() {
        Check check = new Check(
                Check.Item.DESTINATION,
                Check.State.NOT_READY,
                new CheckDetail.StoreTried(
                        "Near",
                        CheckDetail.Attempted.REFUSED,
                        Optional.of("no room"),
                        OptionalDouble.empty(),
                        OptionalDouble.empty()),
                Optional.of("runner"),
                Optional.empty());
        Failing failing = new Failing(1, day(1), Optional.of("Near refuses writes: no room"), List.of());
        Finding told = Finding.of(
                "behind",
                Severity.BEHIND,
                "d",
                "d",
                Optional.empty(),
                new Detail.NothingRestorable(Optional.of(failing), Regular.LISBON),
                List.of());
        assertEquals(List.of(), FactFindings.ofReadiness(REGULAR.database, List.of(check), List.of(told)));
        assertEquals(
                "not-ready-destination",
                FactFindings.ofReadiness(REGULAR.database, List.of(check), List.of())
                        .get(0)
                        .code());
    }

    @Test
    void rulesThatContradictThemselvesAreOneFindingForAllTheirFollowers() {
        PolicyVersion hopeless =
                RULES.with(new Objective(Map.of(Hazard.MISHAP, Duration.ofMinutes(5)), Optional.empty()));
        Followers followers = Followers.of(
                Map.of(REGULAR.database, Habits.of(REGULAR.database, SOUND.history(), day(NOW))),
                Regular.fleet(hopeless));
        List<Finding> all = PolicyFindings.of(hopeless, followers, List.of("d", "e"), Calendars.from(day(NOW)));
        assertEquals(List.of("d", "e"), all.get(0).databases());
        PolicyFlaw flaw = ((Detail.PolicyContradicts) all.get(0).detail()).flaw();
        assertEquals("objective.mishap", flaw.waysOut().get(0).path());
        assertEquals(List.of(), PolicyFindings.of(hopeless, followers, List.of(), Calendars.from(day(NOW))));
    }

    @Test
    void anAcceptHoldsFromItsMomentUpToItsEndUnlessCalledBack() {
        Accept accept = new Accept("a", "k", "r", "b", day(1), day(3), Optional.of(day(2)));
        assertFalse(accept.holdsAt(day(1).minusMillis(1)));
        assertTrue(accept.holdsAt(day(1)));
        assertTrue(accept.holdsAt(day(2).minusMillis(1)));
        assertFalse(accept.holdsAt(day(2)));
        Accept whole = new Accept("a", "k", "r", "b", day(1), day(3), Optional.empty());
        assertTrue(whole.holdsAt(day(3).minusMillis(1)));
        assertFalse(whole.holdsAt(day(3)));
    }
}
