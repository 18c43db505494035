package firth.server.evaluation;

import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.findings.Followers;
import firth.core.model.Database;
import firth.core.model.Lineage;
import firth.core.time.Span;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What time alone changes is noted and told, once. */
class ClockFollowerTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:00Z");
    private static final Lookout.View PRESENT = new Lookout.View(NOW, new Span(NOW, NOW), true, true);

    private final FindingsNow findings = mock(FindingsNow.class);
    private final Evaluations evaluations = mock(Evaluations.class);
    private final Lookout lookout = mock(Lookout.class);
    private final Changes changes = mock(Changes.class);
    private final ClockFollower movingOn = new ClockFollower(findings, evaluations, lookout, changes);

    @BeforeEach
    void standAtTheClock() {
        when(lookout.goesByTheClock()).thenReturn(true);
        when(lookout.view("", "")).thenReturn(PRESENT);
        when(lookout.now()).thenReturn(NOW);
    }

    private static Condition condition(String id, String... codes) {
        Database database = new Database(
                id,
                id,
                Optional.empty(),
                Optional.empty(),
                ZoneId.of("UTC"),
                Optional.empty(),
                List.of(),
                NOW,
                List.of("main"),
                OptionalDouble.empty(),
                OptionalDouble.empty(),
                List.of(),
                List.of(Lineage.FIRST));
        List<Finding> found = Arrays.stream(codes)
                .map(c -> Finding.of(c, Severity.BEHIND, id, id, Optional.of(NOW), new Detail.NoPolicy(), List.of()))
                .toList();
        return new Condition(
                database,
                Optional.empty(),
                found,
                Followers.together(List.of()),
                Optional.empty(),
                Optional.empty(),
                List.of());
    }

    private void round(Condition... conditions) {
        when(findings.conditions(PRESENT)).thenReturn(List.of(conditions));
        movingOn.round();
    }

    @Test
    void whatChangedIsToldOnceAndOfThoseAloneThatChanged() {
        round(condition("a"), condition("b"));
        round(condition("a", "behind"), condition("b"));
        round(condition("a", "behind"), condition("b"));
        verify(changes).moved(Set.of("a", "b"));
        verify(changes).moved(Set.of("a"));
        verify(changes, times(2)).moved(any());
        verify(findings, times(2)).noted(any(), any());
    }

    @Test
    void thatSomethingEndedIsToldToo() {
        round(condition("a", "behind"));
        round(condition("a"));
        verify(changes, times(2)).moved(Set.of("a"));
    }

    @Test
    void nothingMovesWhereThePageStandsStill() {
        when(lookout.goesByTheClock()).thenReturn(false);
        movingOn.round();
        verify(findings, never()).conditions(any());
        verify(changes, never()).moved(any());
    }
}
