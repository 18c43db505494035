package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import firth.core.forecast.Habits;
import firth.core.forecast.Regular;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Objective;
import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import java.time.DayOfWeek;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Random;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Rules that contradict themselves, one by one, and the smallest change that ends each. */
class PolicyFlawsTest {

    private static final Regular REGULAR = new Regular(0);
    private static final Followers FOLLOWERS = Followers.of(
            Map.of(
                    REGULAR.database,
                    Habits.of(REGULAR.database, REGULAR.facts(40).history(), Regular.day(40))),
            Regular.fleet());
    private static final Objective PROMISE = new Objective(
            Map.of(Hazard.MISHAP, Duration.ofHours(2), Hazard.SITE_LOSS, Duration.ofHours(4)),
            Optional.of(Duration.ofDays(14)));
    private static final PolicyVersion SOUND = Regular.policy(PROMISE, List.of(Regular.keeping(Role.NEAR, 14, 2)));

    private static List<PolicyFlaw> flaws(PolicyVersion version) {
        return PolicyFlaws.of(version, FOLLOWERS, Regular.day(40));
    }

    private static PolicyVersion schedule(PolicyVersion p, String id, UnaryOperator<Schedule> change) {
        return p.withSchedules(p.schedules().stream()
                .map(s -> s.id().equals(id) ? change.apply(s) : s)
                .toList());
    }

    private static PolicyVersion without(PolicyVersion p, String... ids) {
        Set<String> gone = Set.of(ids);
        return p.withSchedules(
                p.schedules().stream().filter(s -> !gone.contains(s.id())).toList());
    }

    private static PolicyVersion retain(UnaryOperator<RetainRule> change) {
        return SOUND.withRetain(List.of(change.apply(SOUND.retain().get(0))));
    }

    private static PolicyVersion promising(Hazard hazard, Duration most) {
        return SOUND.with(new Objective(Map.of(hazard, most), Optional.of(Duration.ofDays(14))));
    }

    private static PolicyVersion open(int from, int to) {
        return SOUND.withOpenHours(List.of(new OpenHours(EnumSet.allOf(DayOfWeek.class), from, to)));
    }

    private static PolicyVersion withAnotherWeekly() {
        List<Schedule> all = new ArrayList<>(SOUND.schedules());
        Schedule weekly = all.get(0);
        all.add(new Schedule(
                "weekly-too",
                weekly.kind(),
                weekly.recurrence(),
                weekly.every(),
                weekly.within(),
                weekly.mustFinish(),
                weekly.grace(),
                true,
                weekly.anchor()));
        return SOUND.withSchedules(all);
    }

    private static Followers over(Fleet fleet) {
        return Followers.of(
                Map.of(
                        REGULAR.database,
                        Habits.of(REGULAR.database, REGULAR.facts(40).history(), Regular.day(40))),
                fleet);
    }

    private static Fleet holding(double bytes) {
        List<BackupStore> stores = Regular.fleet().stores().stream()
                .map(s -> new BackupStore(
                        s.id(),
                        s.name(),
                        s.site(),
                        s.medium(),
                        s.role(),
                        OptionalDouble.of(bytes),
                        s.readBytesPerSecond(),
                        s.lockable()))
                .toList();
        return new Fleet(stores, List.of());
    }

    @Test
    void aStoreThatCannotHoldWhatItsRuleRetainsIsNamed() {
        assertEquals(List.of(), PolicyFlaws.of(SOUND, over(holding(1e15)), Regular.day(40)));
        PolicyFlaw found = PolicyFlaws.of(SOUND, over(holding(1e6)), Regular.day(40)).stream()
                .filter(f -> f.code().equals("store-too-small"))
                .findFirst()
                .orElseThrow();
        assertEquals("retain.0.reach", found.path());
        FlawDetail.StoreTooSmall detail = (FlawDetail.StoreTooSmall) found.detail();
        assertEquals(1e6, detail.capacity());
        double once = detail.needed();
        PolicyVersion longer = SOUND.withRetain(List.of(Regular.keeping(Role.NEAR, 28, 2)));
        FlawDetail.StoreTooSmall more =
                (FlawDetail.StoreTooSmall) PolicyFlaws.of(longer, over(holding(1e6)), Regular.day(40)).stream()
                        .filter(f -> f.code().equals("store-too-small"))
                        .findFirst()
                        .orElseThrow()
                        .detail();
        assertTrue(more.needed() > 1.4 * once, "twice the reach takes more: " + more.needed() + " and " + once);
    }

    @Test
    void sabotageNeedsALock() {
        PolicyVersion promised = promising(Hazard.SABOTAGE, Duration.ofHours(9));
        Followers nobody = Followers.of(Map.of(), Regular.fleet());
        PolicyFlaw found = PolicyFlaws.of(promised, nobody, Regular.day(40)).get(0);
        assertEquals("sabotage-without-lock objective.sabotage", found.code() + " " + found.path());
        PolicyVersion locked =
                promised.withRetain(List.of(promised.retain().get(0).withLock(Optional.of(Duration.ofDays(7)))));
        assertEquals(List.of(), PolicyFlaws.of(locked, nobody, Regular.day(40)));
        assertEquals("retain.0.lock", found.waysOut().get(0).path(), found.toString());
    }

    @Test
    void whatFitsIsNotComplainedOf() {
        assertEquals(List.of(), flaws(SOUND));
    }

    static Stream<Arguments> flawed() {
        Duration reach = Duration.ofDays(14);
        return Stream.of(
                Arguments.of("objective-too-short", "objective.mishap", promising(Hazard.MISHAP, Duration.ofHours(1))),
                Arguments.of(
                        "objective-too-short",
                        "objective.siteLoss",
                        promising(Hazard.SITE_LOSS, Duration.ofMinutes(80))),
                Arguments.of(
                        "objective-without-logs",
                        "objective.mishap",
                        without(SOUND, "logs").with(new Objective(PROMISE.rpo(), Optional.empty()))),
                Arguments.of(
                        "reach-without-logs",
                        "objective.reach",
                        without(SOUND, "logs").with(new Objective(Map.of(), Optional.of(reach)))),
                Arguments.of("no-full", "schedules", without(SOUND, "weekly", "nightly")),
                Arguments.of("hangs-from-nothing", "schedules.0.kind", without(SOUND, "weekly")),
                Arguments.of(
                        "reach-without-full",
                        "retain.0.reach",
                        retain(r -> r.withReach(Optional.of(Duration.ofDays(5))))),
                Arguments.of(
                        "rung-without-full", "retain.0.rungs.day", retain(r -> r.withRungs(Map.of(RungUnit.DAY, 3)))),
                Arguments.of(
                        "lock-too-long", "retain.0.lock", retain(r -> r.withLock(Optional.of(Duration.ofDays(40))))),
                Arguments.of(
                        "at-most-too-short",
                        "retain.0.atMost",
                        retain(r -> r.withAtMost(Optional.of(Duration.ofDays(10))))),
                Arguments.of(
                        "window-shorter-than-grace",
                        "schedules.1.within",
                        schedule(SOUND, "nightly", s -> s.withGrace(Duration.ofHours(5)))),
                Arguments.of("outside-open-hours", "schedules.0.at", open(60, 300)),
                Arguments.of("longer-than-open-hours", "openHours", open(21 * 60 + 30, 23 * 60)),
                Arguments.of("copies-impossible", "copies.stores", SOUND.with(new CopiesRule(3, 0, 0, 0))),
                Arguments.of("copies-impossible", "copies.media", SOUND.with(new CopiesRule(0, 3, 0, 0))),
                Arguments.of("copies-impossible", "copies.offsite", SOUND.with(new CopiesRule(0, 0, 2, 0))),
                Arguments.of("copies-impossible", "copies.locked", SOUND.with(new CopiesRule(0, 0, 0, 2))),
                Arguments.of(
                        "never-occurs",
                        "schedules.1.at",
                        schedule(SOUND, "nightly", s -> s.withRecurrence((start, zone, from, to) -> List.of()))),
                Arguments.of(
                        "window-longer-than-spacing",
                        "schedules.1.within",
                        schedule(SOUND, "nightly", s -> s.withWithin(Duration.ofHours(30)))),
                Arguments.of("opens-with-another", "schedules.3.at", withAnotherWeekly()),
                Arguments.of("nothing-retained", "retain", SOUND.withRetain(List.of())),
                Arguments.of(
                        "reach-not-retained",
                        "objective.reach",
                        SOUND.with(new Objective(PROMISE.rpo(), Optional.of(Duration.ofDays(21))))),
                Arguments.of("role-unserved", "retain.0.role", retain(r -> r.with(Role.DEEP))),
                Arguments.of("switched-off", "enabled", SOUND.with(false)),
                Arguments.of("retains-nothing", "retain.0.fulls", retain(r -> r.withFulls(OptionalInt.of(0)))),
                Arguments.of(
                        "retains-nothing", "retain.0.reach", retain(r -> r.withReach(Optional.of(Duration.ZERO)))));
    }

    @ParameterizedTest(name = "{0} at {1}")
    @MethodSource("flawed")
    void namesWhatDoesNotFitWhereItStands(String code, String path, PolicyVersion version) {
        PolicyFlaw found = flaws(version).stream()
                .filter(f -> f.code().equals(code) && f.path().equals(path))
                .findFirst()
                .orElse(null);
        assertTrue(found != null, () -> code + " among " + flaws(version));
        assertFalse(found.waysOut().isEmpty(), found::toString);
        found.waysOut().forEach(way -> resolves(version, code, path, way));
    }

    @Test
    void aHazardNoStoreAnswersIsNamed() {
        PolicyVersion version = promising(Hazard.SABOTAGE, Duration.ofHours(9))
                .withRetain(List.of(SOUND.retain().get(0).withLock(Optional.of(Duration.ofDays(7)))));
        assertEquals(List.of(), flaws(version), "the far store locks");
        Followers unprovided = Followers.of(
                Map.of(
                        REGULAR.database,
                        Habits.of(REGULAR.database, REGULAR.facts(40).history(), Regular.day(40))),
                new Fleet(List.of(), List.of()));
        PolicyFlaw found = PolicyFlaws.of(version, unprovided, Regular.day(40)).get(0);
        assertEquals("hazard-unserved objective.sabotage", found.code() + " " + found.path());
        assertEquals("", found.waysOut().get(0).to(), "the promise is taken back");
    }

    private static void resolves(PolicyVersion version, String code, String path, PolicyChange way) {
        List<PolicyFlaw> before = flaws(version);
        List<PolicyFlaw> after = flaws(way.result());
        assertTrue(
                after.stream().noneMatch(f -> f.code().equals(code) && f.path().equals(path)),
                () -> way.path() + " does not end " + code);
        assertTrue(
                after.stream().allMatch(f -> before.stream().anyMatch(f::isSameAs)),
                () -> way.path() + " brings up " + after);
    }

    @Test
    void theSmallestChangeComesFirst() {
        PolicyFlaw flaw = flaws(promising(Hazard.MISHAP, Duration.ofHours(1))).get(0);
        assertEquals(List.of("schedules.2.every", "objective.mishap"), paths(flaw), "45 min is nearer to 1 h than 2 h");
        assertEquals("PT45M", flaw.waysOut().get(0).to());
        assertEquals("PT2H", flaw.waysOut().get(1).to());
    }

    @Test
    void aMissingScheduleIsAdded() {
        PolicyFlaw flaw = flaws(without(SOUND, "weekly", "nightly")).stream()
                .filter(f -> f.code().equals("no-full"))
                .findFirst()
                .orElseThrow();
        assertEquals("schedules.+weekly-full", flaw.waysOut().get(0).path());
        assertEquals(
                "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=0",
                flaw.waysOut().get(0).to());
    }

    private static List<String> paths(PolicyFlaw flaw) {
        return flaw.waysOut().stream().map(PolicyChange::path).toList();
    }

    static LongStream seeds() {
        return Seeds.upTo(40);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void everyWayOutOfARandomPolicyIsOne(long seed) {
        Random random = new Random(seed);
        List<PolicyVersion> variants =
                new ArrayList<>(flawed().map(a -> (PolicyVersion) a.get()[2]).toList());
        PolicyVersion one = variants.get(random.nextInt(variants.size()));
        PolicyVersion other = variants.get(random.nextInt(variants.size()));
        PolicyVersion mixed = new PolicyVersion(
                "p",
                1,
                one.effectiveFrom(),
                "p",
                random.nextInt(8) > 0,
                random.nextBoolean() ? one.objective() : other.objective(),
                random.nextBoolean() ? one.schedules() : other.schedules(),
                random.nextBoolean() ? one.openHours() : other.openHours(),
                random.nextBoolean() ? one.retain() : other.retain(),
                random.nextBoolean() ? one.copies() : other.copies());
        for (PolicyFlaw flaw : flaws(mixed)) {
            flaw.waysOut().forEach(way -> resolves(mixed, flaw.code(), flaw.path(), way));
        }
    }

    @Test
    void nobodyFollowingSaysNothingOfStoresOrDurations() {
        Followers nobody = Followers.of(Map.of(), Regular.fleet());
        PolicyVersion asking = promising(Hazard.SABOTAGE, Duration.ofHours(9)).with(new CopiesRule(9, 9, 9, 9));
        assertEquals(List.of(), PolicyFlaws.of(asking, nobody, Regular.day(0)));
        assertEquals(
                "no-full",
                PolicyFlaws.of(without(asking, "weekly", "nightly"), nobody, Regular.day(0))
                        .get(0)
                        .code());
    }
}
