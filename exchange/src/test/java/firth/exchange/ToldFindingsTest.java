package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.HeldComponents;
import firth.core.findings.SharedPlace;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.time.Span;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What backups say of themselves, and what is wrong by that. */
class ToldFindingsTest {

    private static final Instant NOW = Instant.parse("2026-11-20T00:00:00Z");

    private static final String PARTS = """
            {"type":"store","id":"n","name":"Near","role":"near"}
            {"type":"database","id":"d","inServiceFrom":"2026-11-01T00:00:00Z","zone":"UTC",\
            "components":[{"name":"orders","bytes":5},{"name":"photos"},{"kind":"schema"}]}
            """;

    private static String full(String id, int day, String more, String copy) {
        return """
                {"type":"backup","id":"%s","database":"d","kind":"full","ended":"%sT00:00:00Z","to":%s%s,"copies":[{"store":"n"%s}]}
                """.formatted(id, LocalDate.of(2026, 11, day), day, more, copy);
    }

    private static String diff(String id, int day, String parent, String more) {
        return full(id, day, ",\"parent\":\"" + parent + "\"" + more, "").replace("\"full\"", "\"diff\"");
    }

    private record Judged(Evaluation answer, List<Backup> backups, List<Finding> findings) {
        List<String> holding(String component) {
            return HeldComponents.of(answer, ToldFindings.in(backups, List.of())::told).stream()
                    .filter(h -> h.component().name().equals(component))
                    .flatMap(h -> h.backups().stream())
                    .toList();
        }

        Optional<Finding> of(String code) {
            return findings.stream().filter(f -> f.code().equals(code)).findFirst();
        }
    }

    private static Judged judged(String file) {
        try {
            MemoryCatalog catalog = new MemoryCatalog();
            ImportReport report = FleetFileReader.read(
                    new ByteArrayInputStream(file.getBytes(StandardCharsets.UTF_8)), "test", catalog);
            assertEquals(List.of(), report.rejected());
            DatabaseFacts facts = catalog.databases().get(0);
            Map<String, List<Backup>> backups = catalog.backups();
            Evaluation e = Evaluation.of(facts, catalog.fleet(), NOW, new Span(NOW.minusSeconds(86_400), NOW));
            List<Backup> own = backups.getOrDefault("d", List.of());
            List<SharedPlace> shared = SharedPlace.among(
                    own.stream().flatMap(b -> ToldFindings.lying(b, NOW)).toList());
            return new Judged(
                    e, own, ToldFindings.all(e, facts, catalog.fleet(), ToldFindings.in(own, shared), List.of()));
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void aPartThatNoUsableBackupHoldsIsFound() {
        Judged all = judged(PARTS + full("f1", 2, ",\"components\":[\"orders\"]", "") + full("f2", 3, "", ""));
        assertEquals(List.of("f2", "f1"), all.holding("orders"), "the newest first; one that names none holds all");
        assertEquals(List.of("f2"), all.holding("photos"));
        assertTrue(all.of("component-nowhere").isEmpty());

        Judged some = judged(PARTS
                + full("f1", 2, ",\"components\":[\"orders\"]", "")
                + full("f2", 3, "", ",\"gone\":\"2026-11-10T00:00:00Z\""));
        assertEquals(List.of(), some.holding("photos"), "what is gone holds nothing");
        Finding lost = some.of("component-nowhere").orElseThrow();
        assertEquals(new Detail.ComponentsNowhere(List.of("photos")), lost.detail());
    }

    @Test
    void whatADifferentialHoldsItsFullHasToHoldToo() {
        Judged judged = judged(PARTS
                + full("f1", 2, ",\"components\":[\"orders\"]", "")
                + diff("g1", 3, "f1", ",\"components\":[\"orders\",\"photos\"]"));
        assertEquals(List.of("g1", "f1"), judged.holding("orders"));
        assertEquals(List.of(), judged.holding("photos"));
    }

    private static final String LIMITED = """
            {"type":"policy","id":"p","effectiveFrom":"2026-11-01T00:00:00Z","objective":{},\
            "rateLimits":[{"bytesPerSecond":1e6,"hours":"always"}]}
            {"type":"store","id":"n","name":"Near","role":"near"}
            {"type":"database","id":"d","inServiceFrom":"2026-11-01T00:00:00Z","zone":"UTC","policy":"p"}
            """;

    private static String run(String course, double bytes) {
        return """
                {"type":"run","id":"r","database":"d","kind":"full","started":"2026-11-02T00:00:00Z","ended":"2026-11-02T01:00:00Z","outcome":"ok"%s}
                {"type":"backup","id":"f","database":"d","kind":"full","run":"r","started":"2026-11-02T00:00:00Z","ended":"2026-11-02T01:00:00Z",\
                "bytes":%s,"to":1,"copies":[{"store":"n"}]}
                """.formatted(course, bytes);
    }

    /** By what it said while it ran, else by all it wrote. */
    @Test
    void aRunFasterThanItsLimitIsFound() {
        String slow = ",\"course\":[{\"at\":\"2026-11-02T00:30:00Z\",\"readBytes\":0,\"writtenBytes\":1.8e9}]";
        String fast = ",\"course\":[{\"at\":\"2026-11-02T00:30:00Z\",\"readBytes\":0,\"writtenBytes\":3.6e9}]";
        assertTrue(judged(LIMITED + run("", 3.6e9)).of("too-fast").isEmpty());
        assertTrue(judged(LIMITED + run("", 7.2e9)).of("too-fast").isPresent());
        assertTrue(judged(LIMITED + run(slow, 7.2e9)).of("too-fast").isEmpty(), "compressed later, for example");
        Finding found = judged(LIMITED + run(fast, 3.6e9)).of("too-fast").orElseThrow();
        assertEquals(List.of("r"), found.facts());
        Detail.TooFast detail = (Detail.TooFast) found.detail();
        assertEquals(2e6, detail.rate(), 1e-6);
        assertEquals(1e6, detail.most(), 1e-6);
        assertEquals(Optional.of("n"), detail.store());
        String elsewhere = LIMITED.replace("\"hours\":\"always\"", "\"store\":\"far\"");
        assertTrue(judged(elsewhere + run(fast, 3.6e9)).of("too-fast").isEmpty());
    }

    @Test
    void aDatabaseOfNoKnownPartsLacksNone() {
        Judged judged = judged(PARTS.replace("components", "labels") + full("f1", 2, "", ""));
        assertEquals(List.of(), HeldComponents.of(judged.answer, b -> {
            throw new AssertionError("asked of " + b);
        }));
        assertTrue(judged.of("component-nowhere").isEmpty());
    }

    @Test
    void twoBackupsThatClaimOneFileAreFoundUntilOneIsSaidToBeGone() {
        String path = ",\"path\":\"/quay/d.bak\"";
        String first = full("f1", 2, "", path);
        Judged judged = judged(PARTS
                + first
                + full("f2", 3, "", path.replace("/quay", "quay"))
                + full("f3", 4, "", ",\"path\":\"/quay/x\""));
        Finding found = judged.of("overwritten").orElseThrow();
        assertEquals(Optional.of(Instant.parse("2026-11-03T00:00:00Z")), found.since());
        assertEquals(List.of("f1", "f2"), found.facts());
        Detail.Overwritten written = (Detail.Overwritten) found.detail();
        assertEquals(List.of("f1"), written.lost());
        assertEquals("quay/d.bak", written.path());
        assertEquals("n", written.store());

        String gone = path + ",\"gone\":\"2026-11-03T00:00:00Z\"";
        assertTrue(judged(PARTS + full("f1", 2, "", gone) + full("f2", 3, "", path))
                .of("overwritten")
                .isEmpty());
        assertTrue(
                judged(PARTS + first + full("f2", 3, "", "")).of("overwritten").isEmpty(), "it says no path");
    }
}
