package firth.core.purge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Urgency;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.purge.StandingPurge.Going;
import firth.core.purge.StandingPurge.Night;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class StandingPurgeTest {

    private static StandingPurge rule(int copies, double bytes, String from, String to) {
        return new StandingPurge(
                "p",
                Duration.ofHours(20),
                copies,
                bytes,
                LocalTime.parse(from),
                LocalTime.parse(to),
                ZoneId.of("Europe/Lisbon"),
                Urgency.WILL_BREAK);
    }

    private static Optional<LocalDate> night(StandingPurge rule, String moment) {
        return rule.nightAt(Instant.parse(moment)).map(Night::date);
    }

    @Test
    void aNightBelongsToTheDayItBeginsOn() {
        StandingPurge rule = rule(1, 1, "22:00", "05:00");
        LocalDate day = LocalDate.of(2026, 11, 30);
        assertEquals(Optional.empty(), night(rule, "2026-11-30T21:59:59.999Z"));
        assertEquals(Optional.of(day), night(rule, "2026-11-30T22:00:00Z"));
        assertEquals(Optional.of(day), night(rule, "2026-12-01T04:59:59.999Z"));
        assertEquals(Optional.empty(), night(rule, "2026-12-01T05:00:00Z"));
        StandingPurge always = rule(1, 1, "22:00", "22:00");
        assertEquals(Optional.of(day.minusDays(1)), night(always, "2026-11-30T21:59:59Z"));
        assertEquals(Optional.of(day), night(always, "2026-11-30T22:00:00Z"));
        StandingPurge noon = rule(1, 1, "11:00", "13:00");
        assertEquals(Optional.of(day), night(noon, "2026-11-30T12:59:59Z"));
        assertEquals(Optional.empty(), night(noon, "2026-11-30T13:00:00Z"));
    }

    @Test
    void clocksThatChangeMakeNightsLongerOrShorter() {
        StandingPurge rule = rule(1, 1, "01:30", "03:00");
        Night spring = rule.nightAt(Instant.parse("2026-03-29T01:30:00Z")).orElseThrow();
        assertEquals(Instant.parse("2026-03-29T01:30:00Z"), spring.opens());
        assertEquals(Instant.parse("2026-03-29T02:00:00Z"), spring.closes());
        Night autumn = rule.nightAt(Instant.parse("2026-10-25T02:59:00Z")).orElseThrow();
        assertEquals(Duration.ofMinutes(150), Duration.between(autumn.opens(), autumn.closes()));
    }

    @Test
    void theLastNightsAreThoseThatHaveBegun() {
        StandingPurge rule = rule(1, 1, "22:00", "05:00");
        List<Night> before = rule.begunBy(Instant.parse("2026-11-30T21:00:00Z"), 3);
        assertEquals(
                List.of("2026-11-27", "2026-11-28", "2026-11-29"),
                before.stream().map(n -> n.date().toString()).toList());
        List<Night> after = rule.begunBy(Instant.parse("2026-11-30T22:00:00Z"), 3);
        assertEquals(LocalDate.of(2026, 11, 30), after.get(2).date());
        assertEquals(3, after.size());
    }

    private static Going going(String backup, double bytes, String root, int rootTaken, int depth) {
        return new Going("d", new Chosen(backup, "near"), bytes, Instant.EPOCH, root, rootTaken, depth);
    }

    private static List<String> tonight(StandingPurge rule, Going... all) {
        return rule.tonight(List.of(all)).stream().map(g -> g.copy().backup()).toList();
    }

    @Test
    void whatRestsOnOthersGoesBeforeThemAndTheOldestChainFirst() {
        Going full = going("full", 10, "full", 1, 0);
        Going one = going("one", 1, "full", 1, 1);
        Going two = going("two", 1, "full", 1, 2);
        Going next = going("next", 10, "next", 5, 0);
        assertEquals(
                List.of("two", "one", "full", "next"), tonight(rule(9, 99, "22:00", "05:00"), next, full, one, two));
        assertEquals(List.of("two", "one"), tonight(rule(2, 99, "22:00", "05:00"), next, full, one, two));
        assertEquals(List.of(), tonight(rule(9, 0.5, "22:00", "05:00"), next, full, one, two));
    }

    @Test
    void whereOneIsTooLargeForANightWhatItRestsOnStaysToo() {
        Going full = going("full", 3, "full", 1, 0);
        Going large = going("large", 50, "full", 1, 1);
        Going log = going("log", 2, "log", 7, 0);
        assertEquals(List.of("log"), tonight(rule(9, 10, "22:00", "05:00"), full, large, log));
    }

    private static int gone;

    @AfterAll
    static void somethingWent() {
        assertTrue(gone > 100, gone + " copies went in all nights: the property says nothing");
    }

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    private static List<Backup> without(List<Backup> backups, Set<Chosen> gone) {
        return backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> !gone.contains(new Chosen(b.id(), c.store())))
                        .toList()))
                .toList();
    }

    /** Nothing is deleted or found spoiled but by the purge. */
    private static List<Backup> untouched(RandomFleet world) {
        return world.backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .map(c -> new Copy(
                                c.store(),
                                c.landed(),
                                c.statedLanding(),
                                c.lockedUntil(),
                                Optional.empty(),
                                Optional.empty(),
                                c.bytes(),
                                c.rest()))
                        .toList()))
                .toList();
    }

    /** What goes in a night: what two answers twenty hours apart found obsolete, and what may go at all. */
    private static Set<Chosen> night(RandomFleet world, StandingPurge rule, List<Backup> known, Instant at) {
        Evaluation e = world.evaluate(known, at);
        Set<Chosen> before = StandingPurge.obsolete(world.evaluate(known, at.minus(rule.obsoleteFor())));
        StillComing coming = new StillComing(e);
        List<Going> free = new ArrayList<>();
        for (int k = 0; k < e.retention().size(); k++) {
            Going g = StandingPurge.going(e, k, 1);
            if (e.retention().verdict(k) != Verdict.NEEDED
                    && coming.keeps(e.retention().backup(k)).isEmpty()
                    && before.contains(g.copy())) {
                free.add(g);
            }
        }
        Set<Chosen> out = new HashSet<>();
        rule.tonight(free).forEach(g -> out.add(g.copy()));
        assertTrue(out.size() <= rule.copies());
        DatabaseFacts facts = new DatabaseFacts(world.database, e.history(), world.holds, List.of());
        out.removeAll(PromisedReach.keeping(facts, world.fleet, e, out).keySet());
        return PurgeProof.of(facts, world.fleet, e, out).holds() ? out : Set.of();
    }

    /** Night after night nothing is lost within any role's reach that keeping everything would have saved. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void manyNightsLoseNothingWithinReach(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        StandingPurge rule = rule(1 + (int) (seed % 7), 1_000, "22:00", "05:00");
        List<Backup> kept = untouched(world);
        List<Backup> left = kept;
        for (Night night : rule.begunBy(world.end.plus(Duration.ofDays(6)), 14)) {
            Set<Chosen> going = night(world, rule, left, night.opens());
            gone += going.size();
            left = without(left, going);
            Evaluation all = world.evaluate(kept, night.closes());
            Evaluation some = world.evaluate(left, night.closes());
            assertEquals(
                    all.mishap().restorable().isEmpty(),
                    some.mishap().restorable().isEmpty());
            for (Role role : Role.values()) {
                Optional<Duration> reach = all.version().orElseThrow().retain().stream()
                        .filter(r -> r.role() == role)
                        .map(RetainRule::reach)
                        .flatMap(Optional::stream)
                        .max(Duration::compareTo);
                reach.ifPresent(r -> {
                    Instant since = Instant.ofEpochMilli(
                            world.database.clock().before(night.closes().toEpochMilli(), r.toMillis()));
                    List<Piece> own = world.evaluate(PurgeOverTimeTest.inRole(world, kept, role), night.closes())
                            .mishap()
                            .restorable();
                    assertEquals(
                            List.of(),
                            PurgeProof.missing(
                                    PurgeProof.since(own, since), some.mishap().restorable()),
                            role + " after the night of " + night.date());
                });
            }
        }
    }
}
