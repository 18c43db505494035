package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Regular;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.time.Span;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** A database that was backed up like clockwork until day 40, a Saturday, when everything fell silent. */
class UnservedTest {

    private static final PolicyVersion RULES = Regular.policy(Objective.NONE, List.of());
    private static final Regular REGULAR = new Regular(0);

    private static List<Unserved> at(double day, DatabaseFacts facts, PolicyVersion rules) {
        Fleet fleet = Regular.fleet(rules);
        return Unserved.of(
                Evaluation.of(facts, fleet, Regular.day(day), new Span(Regular.day(day - 30), Regular.day(day))));
    }

    private static List<String> ids(List<Unserved> found) {
        return found.stream().map(u -> u.schedule().id() + " " + u.missed()).toList();
    }

    @Test
    void threeInARowTell() {
        DatabaseFacts silent = REGULAR.facts(40);
        assertEquals(List.of(), at(40, silent, RULES));
        assertEquals(List.of("logs 78"), ids(at(43.25, silent, RULES)), "two nights and a Saturday are too few");
        List<Unserved> found = at(44.25, silent, RULES);
        assertEquals(List.of("nightly 3", "logs 102"), ids(found));
        assertEquals(Regular.day(41).plus(Duration.ofHours(22)), found.get(0).since());
        assertEquals(List.of(), at(44.25, silent, RULES.with(false)), "nothing is asked for");
    }

    @Test
    void whatIsTriedInVainIsServed() {
        HistoryBuilder history = History.of(REGULAR.database);
        Run failed = new Run(
                "r",
                "d",
                Kind.LOG,
                Regular.day(42),
                Optional.of(Regular.day(42.01)),
                Outcome.FAILED,
                Optional.empty(),
                "");
        history.add(failed);
        Run night = new Run(
                "n",
                "d",
                Kind.INCR,
                Regular.day(43).plus(Duration.ofHours(22)),
                Optional.of(Regular.day(43.95)),
                Outcome.FAILED,
                Optional.empty(),
                "");
        history.add(night);
        DatabaseFacts tried = new DatabaseFacts(REGULAR.database, history.build(), List.of(), List.of());
        List<String> found = ids(at(44.25, tried, RULES));
        assertEquals(List.of("weekly 4"), found, "fulls were never tried, the others were");
    }
}
