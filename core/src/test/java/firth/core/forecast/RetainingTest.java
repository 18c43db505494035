package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.CopiesRule;
import firth.core.model.Fleet;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Random;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Purging what was obsolete, and judging every second day, against judging everything on every day. */
class RetainingTest {

    private static final int DAYS = 24;
    private static final Instant NOW = Regular.day(40);

    private static RetainRule rule(Random random, Role role) {
        boolean reach = random.nextInt(3) > 0;
        return new RetainRule(
                role,
                reach ? Optional.of(Duration.ofDays(1 + random.nextInt(20))) : Optional.empty(),
                random.nextBoolean() ? OptionalInt.of(1 + random.nextInt(3)) : OptionalInt.empty(),
                random.nextBoolean(),
                random.nextInt(3) == 0 ? Map.of(RungUnit.WEEK, 3, RungUnit.MONTH, 2) : Map.of(),
                OptionalInt.empty(),
                Optional.empty(),
                role == Role.FAR && random.nextBoolean()
                        ? Optional.of(Duration.ofDays(random.nextInt(30)))
                        : Optional.empty());
    }

    private static PolicyVersion rules(Random random) {
        PolicyVersion version =
                Regular.policy(Objective.NONE, List.of(rule(random, Role.NEAR), rule(random, Role.FAR)));
        return random.nextBoolean() ? version.with(new CopiesRule(2, random.nextInt(3), 1, 0)) : version;
    }

    private static Map<String, Double> neededOn(int day, DatabaseFacts facts, Fleet fleet) {
        Instant at = NOW.plus(Duration.ofDays(day));
        Evaluation e = Evaluation.of(facts, fleet, at, new Span(at, at));
        Map<String, Double> out = new TreeMap<>();
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().verdict(k) == Verdict.NEEDED) {
                out.merge(e.retention().store(k), e.retention().bytes(k), Double::sum);
            }
        }
        return out;
    }

    private static double landed(History history, String store, int day) {
        long to = NOW.plus(Duration.ofDays(day)).toEpochMilli();
        long from = to - Duration.ofDays(1).toMillis();
        return IntStream.range(0, history.copies())
                .filter(c -> history.store(c).equals(store) && history.landedMs(c) > from && history.landedMs(c) <= to)
                .mapToDouble(history::bytes)
                .sum();
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
    void equalsJudgingTheWholeAndBetweenIsOffByHalfOfWhatGoes(long seed) {
        Regular regular = new Regular(0.003);
        PolicyVersion version = rules(new Random(seed));
        Fleet fleet = Regular.fleet(version);
        DatabaseFacts known = regular.facts(40);
        History whole = new Forecast.Basis(known, fleet, NOW)
                .ahead(fleet, Luck.AS_PLANNED)
                .until(NOW.plus(Duration.ofDays(DAYS)));
        DatabaseFacts then = new DatabaseFacts(regular.database, whole, List.of(), List.of());
        List<Integer> judged = new ArrayList<>();
        Map<String, double[]> room = new Retaining(then, fleet, Optional.of(version), whole, NOW, DAYS)
                .walk((facts, at, day) -> judged.add(day));
        assertEquals(List.of(1, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24), judged);
        for (int day = 1; day <= DAYS; day++) {
            Map<String, Double> exact = neededOn(day, then, fleet);
            double all = exact.values().stream().mapToDouble(d -> d).sum();
            TreeSet<String> stores = new TreeSet<>(exact.keySet());
            stores.addAll(room.keySet());
            for (String store : stores) {
                double held = room.getOrDefault(store, new double[DAYS + 1])[day];
                double needed = exact.getOrDefault(store, 0.0);
                String where = store + " on day " + day + ": " + held + " held, " + needed + " needed";
                if (judged.contains(day)) {
                    assertEquals(needed, held, 1, where);
                } else {
                    double before = neededOn(day - 1, then, fleet).getOrDefault(store, 0.0);
                    double after =
                            neededOn(Math.min(DAYS, day + 1), then, fleet).getOrDefault(store, 0.0);
                    double goes = before + landed(whole, store, day) + landed(whole, store, day + 1) - after;
                    assertEquals(needed, held, goes / 2 + 0.0101 * all, where);
                }
            }
        }
    }
}
