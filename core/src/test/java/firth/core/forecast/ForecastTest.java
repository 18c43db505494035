package firth.core.forecast;

import static firth.core.forecast.Regular.day;
import static firth.core.forecast.Regular.fleet;
import static firth.core.forecast.Regular.keeping;
import static firth.core.forecast.Regular.policy;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Objective;
import firth.core.model.Role;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Looking ahead, held against what a database that runs like clockwork then really does. */
class ForecastTest {

    private static final Objective PROMISE =
            new Objective(Map.of(Hazard.MISHAP, Duration.ofHours(2)), Optional.of(Duration.ofDays(14)));
    private static final Fleet FLEET =
            fleet(policy(PROMISE, List.of(keeping(Role.NEAR, 14, 2), keeping(Role.FAR, 7, 1))));

    private static Forecast ahead(Regular regular, double from, int days) {
        return Forecast.of(new Forecast.Basis(regular.facts(from), FLEET, day(from)), FLEET, days);
    }

    /** What the rules then need of what is then there. */
    private static double needed(Regular regular, double at, String store) {
        Evaluation e = regular.evaluate(at, FLEET);
        double out = 0;
        for (int k = 0; k < e.retention().size(); k++) {
            boolean counts = e.retention().verdict(k) == Verdict.NEEDED
                    && e.retention().store(k).equals(store);
            out += counts ? e.retention().bytes(k) : 0;
        }
        return out;
    }

    @ParameterizedTest(name = "growing {0} a day")
    @ValueSource(doubles = {0, 0.004, 0.01})
    void foretellsTheRoomThatIsThenNeeded(double growth) {
        Regular regular = new Regular(growth);
        Forecast forecast = ahead(regular, 40, 30);
        for (String store : List.of("near", "far")) {
            for (int d = 2; d <= 30; d += 2) {
                double then = needed(regular, 40 + d, store);
                double foretold = forecast.room().get(store)[d];
                assertEquals(then, foretold, 0.03 * then, store + " after " + d + " days");
            }
        }
    }

    @Test
    void beginsWithWhatIsHeldNow() {
        Forecast forecast = ahead(new Regular(0), 10.25, 1);
        double fulls = 2 * 100e9;
        double incrementals = 8 * 5e9;
        assertEquals(fulls + incrementals + 245 * 1e8, forecast.room().get("near")[0], 1e9);
    }

    @Test
    void namesTheFirstRunThatWillNotFitItsWindow() {
        // A full takes 100 GB / 10 MB/s = 2 h 47 min at first and 5 h are allowed: after 80 % of growth it no longer
        // fits.
        Forecast forecast = ahead(new Regular(0.012), 55, 30);
        assertEquals(1, forecast.misses().size());
        Forecast.Miss miss = forecast.misses().get(0);
        assertEquals("weekly", miss.slot().schedule());
        assertTrue(miss.expected().compareTo(Duration.ofHours(5)) > 0);
        double days = Duration.between(Regular.START, miss.slot().open()).toHours() / 24.0;
        assertTrue(days > 66 && days < 76, "after " + days + " days");
        assertEquals(List.of(), ahead(new Regular(0), 55, 30).misses());
    }

    @Test
    void foretellsTheLongestRestore() {
        // On a Saturday before the full: the last full, six incrementals, and a day's logs.
        Duration longest = ahead(new Regular(0), 40, 30).longestRestore().orElseThrow();
        double bytes = 100e9 + 6 * 5e9 + 24 * 1e8;
        double replay = 24 * 1e8 / 5e7;
        assertEquals(bytes / 2e8 + replay, (double) longest.toSeconds(), 60);
    }

    @Test
    void aRuleThatRetainsLessNeverHoldsMore() {
        Regular regular = new Regular(0.004);
        Forecast.Basis basis = new Forecast.Basis(regular.facts(40), FLEET, day(40));
        double[] before = null;
        for (int reach : new int[] {21, 14, 9, 4, 1}) {
            Fleet fleet = fleet(policy(PROMISE, List.of(keeping(Role.NEAR, reach, 1), keeping(Role.FAR, 7, 1))));
            double[] room = Forecast.of(basis, fleet, 20).room().get("near");
            for (int d = 1; d <= 20 && before != null; d++) {
                assertTrue(room[d] <= before[d], "reach " + reach + " after " + d + " days");
            }
            before = room;
        }
    }

    @Test
    void withoutAPolicyEverythingIsKept() {
        Regular regular = new Regular(0);
        Fleet none = fleet();
        Forecast forecast = Forecast.of(new Forecast.Basis(regular.facts(10), none, day(10)), none, 5);
        assertEquals(forecast.room().get("near")[0], forecast.room().get("near")[5], 1);
    }
}
