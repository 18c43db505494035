package firth.server.watch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.findings.Findings;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Few findings are all shown; of many the first of each kind, and how many more there are is said of every kind. */
class ShownTest {

    private static final Instant SINCE = Instant.parse("2026-11-23T09:12:00Z");

    private static List<Finding> findings(int behind, int unusual) {
        List<Finding> out = new ArrayList<>();
        for (int n = 0; n < behind; n++) {
            out.add(finding("behind", Severity.BEHIND, n));
        }
        for (int n = 0; n < unusual; n++) {
            out.add(finding("unusual", Severity.UNUSUAL, n));
        }
        out.sort(Findings.ORDER);
        return out;
    }

    private static Finding finding(String code, Severity severity, int n) {
        String id = "db-" + (100 + n);
        return Finding.of(code, severity, id, id, Optional.of(SINCE.plusSeconds(n)), new Detail.NoPolicy(), List.of());
    }

    private static Shown shown(List<Finding> all) {
        return new Shown(all, f -> f.about().equals("db-107"), id -> id.toUpperCase(java.util.Locale.ROOT));
    }

    @Test
    void fewAreAllShownInTheirOrder() {
        List<Finding> all = findings(20, 20);
        Shown shown = shown(all);
        assertEquals(all, shown.findings());
        assertEquals(List.of(), shown.folds());
        assertEquals(new Watch.FindingCounts(19, 0, 0, 19, 2), shown.counts());
    }

    @Test
    void ofManyTheFirstOfEachKindAreShownAndThoseThatAreBorne() {
        Shown shown = shown(findings(300, 2));
        assertEquals(
                List.of("db-100", "db-101", "db-102", "db-107", "db-100", "db-101"),
                shown.findings().stream().map(Finding::about).toList());
        assertEquals(
                List.of(new Watch.FoldedFindings(
                        "behind",
                        "behind",
                        "broken",
                        3,
                        296,
                        List.of("DB-103", "DB-104", "DB-105", "DB-106", "DB-108", "DB-109"))),
                shown.folds());
        assertEquals(new Watch.FindingCounts(299, 0, 0, 2, 1), shown.counts());
    }

    @Test
    void everyFindingIsEitherShownOrCounted() {
        for (int behind = 0; behind < 60; behind += 7) {
            for (int unusual = 0; unusual < 60; unusual += 5) {
                Shown shown = shown(findings(behind, unusual));
                int folded = shown.folds().stream()
                        .mapToInt(Watch.FoldedFindings::more)
                        .sum();
                assertEquals(behind + unusual, shown.findings().size() + folded);
                assertTrue(shown.findings().size() <= 42, shown.findings().size() + " are shown");
            }
        }
    }
}
