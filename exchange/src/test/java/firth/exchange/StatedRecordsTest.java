package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.history.Stated;
import firth.core.model.Accept;
import firth.core.model.Assigned;
import firth.core.model.Drill;
import firth.core.model.Hold;
import firth.core.model.Id;
import firth.core.model.Kind;
import firth.core.model.Note;
import firth.core.model.Order;
import firth.core.model.Restore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is stated on a page is kept as a line of a fleet file that reads as the same record. */
class StatedRecordsTest {

    private static final List<String> WORDS = List.of(
            "", "the link is being replaced", "“quoted” \"so\"", "a\nb\tc", "Ærø \u2028 ߷ 𝄞", "{\"type\":\"hold\"}");

    private final Random random = new Random(20_261_129);

    private <T> Optional<T> maybe(Supplier<T> value) {
        return random.nextBoolean() ? Optional.of(value.get()) : Optional.empty();
    }

    private Instant moment() {
        return Instant.parse("2026-11-23T09:12:00Z").plusMillis(random.nextLong(1L << 40));
    }

    private String words() {
        return WORDS.get(random.nextInt(WORDS.size()));
    }

    private String id() {
        return "id:" + random.nextInt(1000) + "/x_y-z.Q";
    }

    private Stated next(int sort) {
        return switch (sort) {
            case 0 ->
                StatedRecords.of(new Hold(
                        id(),
                        Optional.of(id()),
                        maybe(this::id),
                        maybe(this::moment),
                        words(),
                        words(),
                        maybe(this::moment),
                        maybe(this::moment)));
            case 1 -> {
                Instant at = moment();
                Instant until = at.plus(Duration.ofMillis(1 + random.nextInt(1 << 30)));
                yield StatedRecords.of(
                        new Accept(id(), words() + "f", words(), words(), at, until, maybe(this::moment)));
            }
            case 2 -> StatedRecords.of(new Note(id(), id(), words() + "n", words(), moment(), maybe(this::moment)));
            case 3 ->
                StatedRecords.of(new Order(
                        id(),
                        id(),
                        Kind.values()[random.nextInt(Kind.values().length)],
                        maybe(this::id),
                        moment(),
                        words(),
                        words(),
                        maybe(this::words)));
            case 4 ->
                StatedRecords.of(
                        new Assigned(id(), id(), maybe(this::id), maybe(this::id), moment(), words(), words()));
            case 5 -> {
                Instant began = moment();
                yield StatedRecords.of(new Drill(
                        id(),
                        id(),
                        Optional.of(began),
                        maybe(() -> began.plusSeconds(random.nextInt(9_000))),
                        maybe(this::moment),
                        maybe(this::moment),
                        maybe(this::id),
                        maybe(random::nextBoolean),
                        IntStream.range(0, random.nextInt(3))
                                .mapToObj(n -> words())
                                .toList(),
                        words()));
            }
            default -> {
                Instant began = moment();
                yield StatedRecords.of(new Restore(
                        id(),
                        id(),
                        maybe(this::moment),
                        maybe(this::moment),
                        maybe(this::id),
                        Optional.of(began),
                        maybe(() -> began.plusSeconds(random.nextInt(9_000))),
                        random.nextBoolean(),
                        maybe(this::id),
                        words(),
                        words()));
            }
        };
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 3, 4, 5, 6})
    void readsAsWhatWasStatedAndIsOneLine(int sort) throws IOException {
        for (int n = 0; n < 300; n++) {
            Stated stated = next(sort);
            assertEquals(stated.record(), FleetFileReader.recordOf(stated.document()), stated.document());
            ImportReport report = FleetFileReader.read(
                    new ByteArrayInputStream(stated.document().getBytes(StandardCharsets.UTF_8)),
                    "one",
                    new MemoryCatalog());
            assertEquals(1, report.added(), () -> stated.document() + report.rejected());
            assertEquals(List.of(), report.warnings(), stated.document());
        }
    }

    @Test
    void momentsAreKeptToTheMillisecond() {
        Instant fine = Instant.parse("2026-11-23T09:12:00.123456789Z");
        Note read = (Note)
                FleetFileReader.recordOf(StatedRecords.of(new Note("n", "a", "text", "", fine, Optional.of(fine)))
                        .document());
        assertEquals(Instant.parse("2026-11-23T09:12:00.123Z"), read.at());
        assertEquals(Optional.of(read.at()), read.withdrawn());
    }

    @Test
    void anIdThatIsNoneIsRefusedByName() {
        Instant at = moment();
        BadField bad = assertThrows(
                BadField.class, () -> StatedRecords.of(new Note("n", "no such id", "text", "", at, Optional.empty())));
        assertEquals("database", bad.field());
        assertThrows(
                BadField.class,
                () -> StatedRecords.of(new Note("x".repeat(Id.LONGEST + 1), "a", "text", "", at, Optional.empty())));
        assertTrue(Id.isId("x".repeat(Id.LONGEST)));
        for (String none : List.of("", "a b", "é", "a\n", "a;b", "ａ")) {
            assertTrue(!Id.isId(none), none);
        }
    }

    @Test
    void aDatabaseIsStatedAnewWithWhatFirthDoesNotKnow() {
        List<String> known = List.of(
                "{\"type\":\"database\",\"id\":\"fares\",\"inServiceFrom\":\"2026-01-01T00:00:00Z\"}",
                "{\"type\":\"database\",\"id\":\"berths\",\"inServiceFrom\":\"2026-01-01T00:00:00Z\",\"mood\":\"calm\","
                        + "\"engine\":\"PostgreSQL 16\",\"policy\":\"old\"}");
        Instant opened = Instant.parse("2026-11-23T09:12:00Z");
        DatabaseDocument berths = DatabaseDocument.among(known, "berths").orElseThrow();
        DatabaseDocument forked = berths.withLineage(Optional.empty(), "1", opened, Map.of("main", 70L));
        assertTrue(forked.stated().document().contains("\"mood\":\"calm\""));
        var lineages = ((firth.core.model.Database) forked.stated().record()).lineages();
        assertEquals(List.of("1", "2"), lineages.stream().map(l -> l.id()).toList());
        assertEquals(Map.of("main", 70L), lineages.get(1).forkPos());
        assertEquals(
                "lineage",
                assertThrows(
                                BadField.class,
                                () -> forked.withLineage(Optional.of("2"), "1", opened, Map.of("main", 70L)))
                        .field());
        var copy = (firth.core.model.Database)
                berths.restoredAs("berths-2", opened, Optional.of("h1"), Optional.of("sailings"), Optional.empty())
                        .stated()
                        .record();
        assertEquals(Optional.of("PostgreSQL 16"), copy.engine());
        assertEquals(Optional.of("sailings"), copy.policy());
        assertEquals(opened, copy.inServiceFrom());
        assertEquals(Optional.empty(), DatabaseDocument.among(known, "nobody"));
    }
}
