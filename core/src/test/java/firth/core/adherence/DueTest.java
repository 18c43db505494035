package firth.core.adherence;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.forecast.Regular;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What Firth's own clock says is to be started. The nightly incremental may start from 22:00 to 02:00; logs come hourly. */
class DueTest {

    private static final Regular REGULAR = new Regular(0);
    private static final PolicyVersion RULES = Regular.policy(Objective.NONE, List.of());
    /** A Monday, 22:00. */
    private static final Instant OPEN = day(21).plus(Duration.ofHours(22));

    private static DatabaseFacts before(Instant moment, Run... runs) {
        double days = Duration.between(Regular.START, moment).toMinutes() / 1440.0;
        HistoryBuilder out = History.of(REGULAR.database);
        out.addAll(REGULAR.facts(days).history(), i -> {});
        for (Run r : runs) {
            out.add(r);
        }
        return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
    }

    private static List<Kind> kinds(DatabaseFacts facts, Instant now) {
        return Due.of(facts, Regular.fleet(RULES), now).stream().map(Due::kind).toList();
    }

    private static List<Kind> data(DatabaseFacts facts, Instant now) {
        return kinds(facts, now).stream().filter(Kind::isData).toList();
    }

    private static Run run(Instant started, Optional<Instant> ended, Outcome outcome) {
        return new Run("r" + started, "d", Kind.INCR, started, ended, outcome, Optional.empty(), "");
    }

    @Test
    void aSlotIsDueFromItsOpeningUntilItsWindowCloses() {
        DatabaseFacts facts = before(OPEN);
        assertEquals(List.of(), kinds(before(OPEN.minusSeconds(1)), OPEN.minusSeconds(1)));
        Due due = Due.of(facts, Regular.fleet(RULES), OPEN).get(0);
        assertEquals(Kind.INCR, due.kind());
        assertEquals(OPEN, due.since());
        assertEquals(Optional.of(OPEN.plus(Duration.ofHours(4))), due.until());
        assertEquals("d:nightly:" + OPEN + ":0", due.id());
        assertEquals(
                Kind.INCR,
                kinds(facts, OPEN.plus(Duration.ofHours(4)).minusMillis(1)).get(0));
        assertEquals(List.of(Kind.LOG), kinds(facts, OPEN.plus(Duration.ofHours(4))));
    }

    @Test
    void nothingOfAKindIsDueWhileOneRunsAndAFailedOneIsTriedAgainAfterAPause() {
        Instant later = OPEN.plusSeconds(600);
        assertEquals(List.of(), data(before(OPEN, run(OPEN, Optional.empty(), Outcome.RUNNING)), later));
        DatabaseFacts failed = before(OPEN, run(OPEN, Optional.of(OPEN.plusSeconds(60)), Outcome.FAILED));
        assertEquals(
                List.of(), data(failed, OPEN.plusSeconds(60).plus(Due.PAUSE).minusMillis(1)));
        Due again = Due.of(failed, Regular.fleet(RULES), OPEN.plusSeconds(60).plus(Due.PAUSE))
                .get(0);
        assertEquals("d:nightly:" + OPEN + ":1", again.id());
        assertEquals(List.of(), data(before(OPEN, run(OPEN, Optional.of(OPEN.plusSeconds(60)), Outcome.OK)), later));
    }

    @Test
    void aRunWhoseEndNobodyTellsKeepsOthersFromStartingForADayOnly() {
        Instant next = OPEN.plus(Duration.ofDays(1));
        DatabaseFacts late = before(OPEN, run(OPEN.plusSeconds(60), Optional.empty(), Outcome.RUNNING));
        assertEquals(List.of(), data(late, next.plusSeconds(59)));
        assertEquals(List.of(Kind.INCR), data(late, next.plusSeconds(60)));
    }

    @Test
    void logsAreDueOneIntervalAfterTheLast() {
        Instant noon = day(20.5);
        DatabaseFacts facts = before(noon);
        Instant last = noon.minus(Duration.ofHours(1));
        assertEquals(List.of(), kinds(facts, last.plus(Duration.ofHours(1)).minusMillis(1)));
        Due due = Due.of(facts, Regular.fleet(RULES), noon).get(0);
        assertEquals(Kind.LOG, due.kind());
        assertEquals(noon, due.since());
        assertEquals(Optional.empty(), due.until());
    }

    @Test
    void nothingIsDueOfWhatIsSwitchedOffStoppedRetiredOrWithoutAPolicy() {
        Fleet off = Regular.fleet(RULES.with(false));
        assertEquals(List.of(), Due.of(before(OPEN), off, OPEN));
        assertEquals(List.of(), Due.of(before(OPEN), Regular.fleet(), OPEN));
        Database stopped = Regular.like(
                REGULAR.database,
                "d",
                Particulars.NONE,
                new Database.Stop(OPEN.minusSeconds(60), Optional.of(OPEN.plusSeconds(60))));
        DatabaseFacts facts = new DatabaseFacts(stopped, before(OPEN).history(), List.of(), List.of());
        assertEquals(List.of(), kinds(facts, OPEN));
        assertEquals(2, kinds(facts, OPEN.plusSeconds(60)).size());
    }
}
