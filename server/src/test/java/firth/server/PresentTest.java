package firth.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotSame;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.model.Hazard;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Summaries;
import firth.server.evaluation.SummaryPart;
import firth.server.platform.FactsHolder;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An answer about the present stands until time alone changes it, and not a moment longer. */
class PresentTest {

    private static final Instant BEGIN = Instant.parse("2026-11-23T07:00:00Z");
    private static final Instant LAST = BEGIN.plus(Duration.ofHours(2));
    /** When the age passes the quarter of an hour that is promised. */
    private static final Instant BREAKS = LAST.plus(Duration.ofMinutes(15)).plusMillis(1);

    @TempDir
    private Path directory;

    private final Clock clock = mock(Clock.class);
    private FactsHolder facts;
    private Lookout lookout;
    private Evaluations evaluations;

    @BeforeEach
    void open() throws IOException {
        facts = new FactsHolder(directory.resolve("firth.db").toString());
        lookout = new Lookout(facts, clock);
        evaluations = new Evaluations(facts);
        tell("""
                {"type":"store","id":"near","name":"Quay near","role":"near"}
                {"type":"policy","id":"p","version":1,"effectiveFrom":"%1$s","name":"P","objective":{"mishap":"PT15M"}}
                {"type":"database","id":"d","name":"berths","zone":"UTC","policy":"p","inServiceFrom":"%1$s"}
                {"type":"backup","id":"f","database":"d","kind":"full","selfContained":true,"started":"%1$s","ended":"%1$s","from":0,"to":1,"copies":[{"store":"near","landed":"%1$s"}]}
                """.formatted(BEGIN));
        tell(log(1, BEGIN, LAST));
    }

    private static String log(int n, Instant from, Instant to) {
        return "{\"type\":\"backup\",\"id\":\"l" + n + "\",\"database\":\"d\",\"kind\":\"log\",\"from\":" + n
                + ",\"to\":" + (n + 1)
                + ",\"fromTime\":\"" + from + "\",\"toTime\":\"" + to + "\",\"ended\":\"" + to
                + "\",\"copies\":[{\"store\":\"near\",\"landed\":\"" + to + "\"}]}";
    }

    private void tell(String lines) throws IOException {
        ToldFacts.tell(facts, lines, LAST);
    }

    private Evaluation at(Instant now) {
        when(clock.instant()).thenReturn(now);
        return evaluations.one("d", lookout.view("", "")).answers().get(0);
    }

    @Test
    void anAnswerStandsUntilAPromiseBreaks() {
        Evaluation first = at(LAST.plusSeconds(600));
        assertEquals(Grade.COVERED, first.grade());
        Instant before = BREAKS.minusMillis(2);
        assertSame(first, at(before));
        assertEquals(Duration.between(LAST, before), first.age(Hazard.MISHAP, before));
        assertEquals(Grade.COVERED, at(BREAKS.minusMillis(1)).grade(), "it is as old as is promised, and no older");
        assertEquals(Grade.BEHIND, at(BREAKS).grade(), "though nothing came");
    }

    @Test
    void anAnswerThatSaysHowOldSomethingIsStandsForAMinute() {
        Evaluation behind = at(BREAKS);
        assertSame(behind, at(BREAKS.plusSeconds(59)));
        assertNotSame(behind, at(BREAKS.plusSeconds(60)));
    }

    @Test
    void whatIsToldIsSeenAtOnce() throws IOException {
        Evaluation first = at(LAST.plusSeconds(600));
        Instant more = LAST.plusSeconds(300);
        tell(log(2, LAST, more));
        assertNotSame(first, at(LAST.plusSeconds(601)));
        assertEquals(Optional.of(more), at(LAST.plusSeconds(601)).mishap().recoveryPoint());
    }

    @Test
    void aClockThatIsSetBackIsFollowed() {
        assertEquals(Grade.BEHIND, at(BREAKS).grade());
        assertEquals(Grade.COVERED, at(LAST.plusSeconds(60)).grade());
    }

    @Test
    void whatIsDrawnIsDrawnAnewWhenTheAnswerIs() {
        AtomicInteger drawn = new AtomicInteger();
        SummaryPart<Grade> drawing = one -> {
            drawn.incrementAndGet();
            return one.answer().grade();
        };
        Summaries summaries = new Summaries(facts, evaluations, List.of(drawing));
        when(clock.instant()).thenReturn(LAST.plusSeconds(600));
        assertEquals(
                List.of(Grade.COVERED),
                summaries.all(lookout.view("", ""), drawing).each());
        when(clock.instant()).thenReturn(LAST.plusSeconds(700));
        assertEquals(
                List.of(Grade.COVERED),
                summaries.all(lookout.view("", ""), drawing).each());
        assertEquals(1, drawn.get());
        when(clock.instant()).thenReturn(BREAKS);
        assertEquals(
                List.of(Grade.BEHIND),
                summaries.all(lookout.view("", ""), drawing).each());
        assertEquals(2, drawn.get());
    }

    @Test
    void aPastMomentIsAnsweredForItselfAlone() {
        Evaluation present = at(BREAKS);
        String then = BREAKS.toString();
        Evaluation chosen =
                evaluations.one("d", lookout.view(then, "")).answers().get(0);
        assertNotSame(present, chosen);
        assertEquals(present.grade(), chosen.grade());
        assertTrue(chosen.asOf().equals(BREAKS) && present.asOf().equals(BREAKS));
    }
}
