package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import firth.exchange.FleetFileReader;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.FactStore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Where a request stands that does not say so. */
class LookoutTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:00Z");

    @TempDir
    private Path directory;

    private final Clock clock = mock(Clock.class);
    private FactsHolder facts;
    private Lookout lookout;

    private record From(Optional<Instant> newestFact, boolean isProgram) implements FactStore.Delivery {
        @Override
        public String source() {
            return "test";
        }
    }

    @BeforeEach
    void open() {
        facts = new FactsHolder(directory.resolve("firth.db").toString());
        when(clock.instant()).thenReturn(NOW);
        lookout = new Lookout(facts, clock);
    }

    private void fact(String moment) throws IOException {
        fact(moment, false);
    }

    private void fact(String moment, boolean byProgram) throws IOException {
        String line = "{\"type\":\"run\",\"id\":\"r" + moment + "\",\"database\":\"d\",\"kind\":\"full\",\"started\":\""
                + moment + "\",\"outcome\":\"running\"}";
        facts.store()
                .write(
                        c -> FleetFileReader.read(
                                new ByteArrayInputStream(line.getBytes(StandardCharsets.UTF_8)), "test", c),
                        r -> new From(r.newestFact(), byProgram),
                        NOW);
    }

    @Test
    void standsAtTheNewestFactSoThatOldFactsDoNotLookLate() throws IOException {
        assertEquals(NOW, lookout.view("", "").asOf(), "without facts: now");
        fact("2026-11-20T00:00:00Z");
        Lookout.View view = lookout.view(null, null);
        assertEquals(Instant.parse("2026-11-20T00:00:00Z"), view.asOf());
        assertEquals(Duration.ofDays(30), view.period().length());
    }

    @Test
    void standsAtTheClockOnceAProgramHasReportedForThenSilenceMeansSomething() throws IOException {
        fact("2026-11-20T00:00:00Z", true);
        fact("2026-11-20T01:00:00Z", false);
        Lookout.View view = lookout.view("", "");
        assertEquals(NOW, view.asOf());
        assertEquals(NOW, lookout.standsAt());
        assertTrue(view.moves() && lookout.goesByTheClock());
        when(clock.instant()).thenReturn(NOW.plusSeconds(60));
        assertEquals(NOW.plusSeconds(60), lookout.view("", "").asOf(), "and moves on with it");
        assertEquals(Instant.parse("2026-11-20T01:00:00Z"), lookout.newestFact());
    }

    @Test
    void aRunnerOrAnAgentThatAsksIsAProgramThoughItToldNothing() throws IOException {
        fact("2026-11-20T00:00:00Z");
        assertFalse(lookout.goesByTheClock());
        facts.store().runners().heard("north-1", NOW, Duration.ofMinutes(1));
        assertTrue(lookout.goesByTheClock());
    }

    @Test
    void standsAtTheClockWhereThatIsAskedForThoughNoProgramEverReported() throws IOException {
        fact("2026-11-20T00:00:00Z");
        Lookout.View view = lookout.view("now", "");
        assertEquals(NOW, view.asOf());
        assertTrue(view.moves());
        assertFalse(Lookout.looksBack("now"));
        assertFalse(Lookout.looksBack(""));
        assertTrue(Lookout.looksBack("2026-11-19T00:00:00Z"));
    }

    @Test
    void answersOfThePresentAreKeptFromMomentToMomentAndThoseOfAPastOneForItAlone() throws IOException {
        fact("2026-11-20T00:00:00Z", true);
        Object month = lookout.view("", "").kept();
        Object week = lookout.view("", "P7D").kept();
        Object fixed =
                lookout.view("", "2026-11-01T00:00:00Z/2026-11-02T00:00:00Z").kept();
        Object chosen = lookout.view(NOW.toString(), "").kept();
        when(clock.instant()).thenReturn(NOW.plusSeconds(60));
        assertEquals(month, lookout.view("", "").kept());
        assertEquals(week, lookout.view("now", "P7D").kept());
        assertEquals(
                fixed,
                lookout.view("", "2026-11-01T00:00:00Z/2026-11-02T00:00:00Z").kept());
        assertEquals(4, Set.of(month, week, fixed, chosen).size());
        assertNotEquals(chosen, lookout.view(NOW.plusSeconds(60).toString(), "").kept());
    }

    @Test
    void doesNotFollowAClockThatRunsAhead() throws IOException {
        fact("2031-01-01T00:00:00Z");
        assertEquals(NOW, lookout.view(null, null).asOf());
    }

    @Test
    void seesAFactOfTheVerySecondWeAreInAndOfAClockALittleAhead() throws IOException {
        Instant told = NOW.plusMillis(400);
        when(clock.instant()).thenReturn(NOW.plusMillis(450));
        assertEquals(told, lookout.believed(told));
        fact(told.toString());
        assertEquals(told, lookout.newestFact(), "in the same second");
        Instant ahead = NOW.plusSeconds(90);
        assertEquals(ahead, lookout.believed(ahead));
        fact(ahead.toString());
        assertEquals(NOW.plusMillis(450), lookout.newestFact(), "nothing is shown before it is time");
        when(clock.instant()).thenReturn(NOW.plusSeconds(91));
        assertEquals(ahead, lookout.newestFact(), "and then it is, without another word");
        assertEquals(
                NOW.plusSeconds(91), lookout.believed(NOW.plus(Duration.ofDays(2000))), "far ahead: a wrong clock");
    }

    @Test
    void takesAPeriodAsALengthOrAsItsEnds() {
        assertEquals(
                Duration.ofDays(7),
                lookout.view("2026-11-01T00:00:00Z", "P1W").period().length());
        assertEquals(
                Instant.parse("2026-10-01T00:00:00Z"),
                lookout.view("", "2026-10-01T00:00:00Z/2026-10-02T00:00:00Z")
                        .period()
                        .from());
        assertThrows(BadRequest.class, () -> lookout.view("", "PT0S"));
    }
}
