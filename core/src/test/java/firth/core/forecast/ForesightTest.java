package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.ToDoubleFunction;
import org.junit.jupiter.api.Test;

/** What was foretold of random changes of rules, held against what came of them (docs/foresight.md, "How well it foretells"). */
class ForesightTest {

    private static final int BEFORE = 50;
    private static final int AFTER = 30;
    private static final int TRIED = 40;

    /** What one change was foretold to bring, and what it brought. */
    private record Tried(
            long seed,
            double attainment,
            double attained,
            Map<Hazard, Duration> worst,
            Map<Hazard, Duration> was,
            Duration reach,
            Duration reached) {}

    private static List<Schedule> schedules(Random random) {
        List<Schedule> out = new ArrayList<>();
        int hour = 18 + random.nextInt(6);
        DayOfWeek[] some = random.nextBoolean()
                ? new DayOfWeek[] {DayOfWeek.SATURDAY}
                : random.nextBoolean() ? new DayOfWeek[] {DayOfWeek.WEDNESDAY, DayOfWeek.SATURDAY} : DayOfWeek.values();
        out.add(Regular.schedule("fulls", Kind.FULL, Regular.at(hour, some), 5, random.nextBoolean()));
        if (random.nextInt(4) > 0) {
            Kind kind = random.nextBoolean() ? Kind.INCR : Kind.DIFF;
            out.add(Regular.schedule("between", kind, Regular.at(hour), 4, false));
        }
        out.add(Schedule.logs("logs", Duration.ofMinutes(new int[] {15, 30, 60, 120}[random.nextInt(4)])));
        return out;
    }

    private static Objective objective(Random random) {
        return new Objective(
                Map.of(
                        Hazard.MISHAP,
                        Duration.ofMinutes(20 + random.nextInt(150)),
                        Hazard.SITE_LOSS,
                        Duration.ofHours(1 + random.nextInt(6))),
                Optional.of(Duration.ofDays(10 + random.nextInt(20))));
    }

    private static PolicyVersion policy(Random random) {
        PolicyVersion rules = Regular.policy(
                objective(random),
                List.of(
                        Regular.keeping(Role.NEAR, 7 + random.nextInt(22), 1),
                        Regular.keeping(Role.FAR, 7 + random.nextInt(22), 1)));
        return rules.withSchedules(schedules(random));
    }

    /** One, two or all of what a policy says is changed. */
    private static PolicyVersion changed(PolicyVersion before, Random random) {
        PolicyVersion other = policy(random);
        PolicyVersion out = before;
        int what = 1 + random.nextInt(7);
        out = (what & 1) != 0 ? out.withSchedules(other.schedules()) : out;
        out = (what & 2) != 0 ? out.withRetain(other.retain()) : out;
        out = (what & 4) != 0 ? out.with(other.objective()) : out;
        return new PolicyVersion(
                "p",
                2,
                Regular.day(BEFORE),
                out.name(),
                true,
                out.objective(),
                out.schedules(),
                List.of(),
                out.retain(),
                out.copies());
    }

    private static Tried tried(long seed, boolean calm) {
        Random random = new Random(seed);
        PolicyVersion before = policy(random);
        PolicyVersion after = changed(before, random);
        Fleet asItWas = Regular.fleet(before);
        Simulated life = new Simulated(seed, calm);
        life.live(asItWas, BEFORE);
        Instant now = Regular.day(BEFORE);
        DatabaseFacts facts = life.facts(now, Regular.day(BEFORE - AFTER - 5));
        Forecast.Basis basis = new Forecast.Basis(facts, asItWas, now);
        Fleet asWritten = asItWas.replaying(after);
        Forecast room = Forecast.of(basis, asWritten, AFTER);
        Fare foretold = Foresight.of(basis, asWritten, room).orElseThrow().fare();

        Fleet both = Regular.fleet(before, after);
        life.live(both, BEFORE + AFTER);
        Instant then = Regular.day(BEFORE + AFTER);
        Evaluation came = Evaluation.of(life.facts(then, now), both, then, new Span(now, then));
        return new Tried(
                seed,
                foretold.attainment().orElseThrow(),
                came.mishap().achieved().attainment().orElseThrow(),
                foretold.worst(),
                Map.of(
                        Hazard.MISHAP,
                        Duration.ofMillis((long) came.mishap().achieved().max()),
                        Hazard.SITE_LOSS,
                        Duration.ofMillis(
                                (long) came.under(Hazard.SITE_LOSS).achieved().max())),
                room.reach().orElseThrow().achieved(),
                came.reach().achieved());
    }

    private static List<Tried> tried(boolean calm) {
        return Seeds.upTo(TRIED).parallel().mapToObj(seed -> tried(seed, calm)).toList();
    }

    /** How far off it was, ascending. */
    private static double[] off(List<Tried> all, ToDoubleFunction<Tried> by) {
        return all.stream().mapToDouble(by).map(Math::abs).sorted().toArray();
    }

    private static double worstOff(Tried t, Hazard hazard) {
        return (double) t.worst.get(hazard).toMillis() / t.was.get(hazard).toMillis() - 1;
    }

    private static double reachOff(Tried t) {
        return (t.reach.toMillis() - t.reached.toMillis()) / 86_400_000.0;
    }

    private static void within(double most, double[] off, double share, String what) {
        double at = off[(int) Math.ceil(share * off.length) - 1];
        assertTrue(at <= most, () -> what + ": " + share + " are off by up to " + at + ": " + Arrays.toString(off));
    }

    @Test
    void whatWasForetoldOfRandomChangesCameWhereNothingFails() {
        List<Tried> all = tried(true);
        within(0.001, off(all, t -> t.attainment - t.attained), 1, "attainment");
        within(0.04, off(all, t -> worstOff(t, Hazard.MISHAP)), 1, "worst loss, mishap");
        within(0.04, off(all, t -> worstOff(t, Hazard.SITE_LOSS)), 1, "worst loss, site");
        within(1.25, off(all, ForesightTest::reachOff), 1, "days of reach");
    }

    /** The next weeks have other bad luck than the last: of one database that may be much, of most it is little. */
    @Test
    void whatWasForetoldOfRandomChangesCameAboutWhereThingsFail() {
        List<Tried> all = tried(false);
        within(0.01, off(all, t -> t.attainment - t.attained), 0.5, "attainment");
        within(0.07, off(all, t -> t.attainment - t.attained), 0.9, "attainment");
        double bias = all.stream()
                .mapToDouble(t -> t.attainment - t.attained)
                .average()
                .orElse(1);
        assertTrue(Math.abs(bias) < 0.015, () -> "neither too bright nor too dark: " + bias);
        within(1.25, off(all, ForesightTest::reachOff), 0.6, "days of reach");
    }
}
