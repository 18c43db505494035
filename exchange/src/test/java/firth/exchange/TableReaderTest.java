package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class TableReaderTest {

    private static final String MAPPED = """
            {"type":"mapping","id":"night-list","name":"Night list","of":"backup","zone":"Europe/Lisbon","pattern":"dd/MM/yyyy HH:mm",
             "columns":{"DB":"database","Typ":"kind","Beginn":"started","Dauer":"seconds:min","MB":"bytes:MB","Where":"store"},
             "words":{"kind":{"V":"full","D":"diff"}},"fixed":{"compressed":"yes"}}""";

    private static TableReader.Read read(String table, String mapping) throws IOException {
        return TableReader.read(
                new ByteArrayInputStream(table.getBytes(StandardCharsets.UTF_8)),
                "list.csv",
                mapping.isEmpty() ? Mappings.plain("backup") : Mappings.of(mapping),
                new MemoryCatalog(),
                Long.MAX_VALUE,
                10);
    }

    @Test
    void aTableWithTheNamesOfTheFormatNeedsNoMapping() throws IOException {
        TableReader.Read read = read("""
                id,database,kind,started,ended,bytes,from,to,selfContained,copies
                f,d,full,2026-11-20T22:00:00Z,2026-11-20T23:00:00Z,5e9,100,120,yes,"store=n1;landed=2026-11-20T23:00:00Z | store=f1;landed=2026-11-21T01:00:00Z;lockedUntil=2026-12-01T00:00:00Z"
                """, "");
        assertEquals(List.of(), read.report().rejected());
        assertEquals(
                List.of(
                        "{\"bytes\":5000000000,\"copies\":[{\"landed\":\"2026-11-20T23:00:00Z\",\"store\":\"n1\"},{\"landed\":\"2026-11-21T01:00:00Z\",\"lockedUntil\":\"2026-12-01T00:00:00Z\",\"store\":\"f1\"}],\"database\":\"d\",\"ended\":\"2026-11-20T23:00:00Z\",\"from\":100,\"id\":\"f\",\"kind\":\"full\",\"selfContained\":true,\"started\":\"2026-11-20T22:00:00Z\",\"to\":120,\"type\":\"backup\"}"),
                read.first());
    }

    @Test
    void headersWordsUnitsAndLocalTimesAreTranslated() throws IOException {
        TableReader.Read read = read(
                "\ufeffDB;Typ;Beginn;Dauer;MB;Where;Sonst\r\nberths;V;25/10/2026 01:30;90;1 200.5;n1;x\r\nberths;D;29/03/2026 01:30;1;3;n1;y\r\n",
                MAPPED);
        assertEquals(List.of(), read.report().rejected());
        assertEquals(2, read.report().added());
        String first = read.first().get(0);
        assertTrue(first.contains("\"started\":\"2026-10-25T00:30:00Z\""), "of two half past ones the first: " + first);
        assertTrue(first.contains("\"ended\":\"2026-10-25T02:00:00Z\""), first);
        assertTrue(first.contains("\"bytes\":1200500000"), first);
        assertTrue(first.contains("\"copies\":[{\"store\":\"n1\"}]"), first);
        assertTrue(first.contains("\"compressed\":true"), first);
        assertTrue(
                read.first().get(1).contains("\"started\":\"2026-03-29T01:30:00Z\""),
                "an hour that does not exist moves forward: " + read.first().get(1));
        assertTrue(first.contains("\"id\":\"berths-full-2026-10-25T00:30:00Z\""), first);
    }

    private static final String BOTH = """
            {"type":"mapping","id":"jobs","of":"both","columns":{"db":"database","type":"kind","start":"started","end":"ended",
             "status":"outcome","size":"bytes:GB","to":"store","text":"message"},"words":{"outcome":{"success":"ok","error":"failed"}}}""";

    private static final String JOBS = """
            db,type,start,end,status,size,to,text
            berths,full,2026-11-20T22:00:00Z,2026-11-20T23:00:00Z,success,4,near,
            berths,full,2026-11-21T22:00:00Z,2026-11-21T22:01:00Z,error,4,near,no room left
            berths,full,2026-11-22T22:00:00Z,,running,,,
            berths,full,2026-11-23T22:00:00Z,2026-11-23T23:00:00Z,splendid,4,near,
            """;

    @Test
    void aRowIsARunAndTheBackupItMadeAndAFailedRowIsAFailedRunAlone() throws IOException {
        TableReader.Read read = read(JOBS, BOTH);
        assertEquals(4, read.report().lines());
        assertEquals(
                List.of(
                        "backup berths-full-2026-11-20T22:00:00Z of berths-full-2026-11-20T22:00:00Z:run",
                        "run berths-full-2026-11-20T22:00:00Z:run ok",
                        "run berths-full-2026-11-21T22:00:00Z:run failed",
                        "run berths-full-2026-11-22T22:00:00Z:run running"),
                said(read));
        assertTrue(read.first().stream().anyMatch(r -> r.contains("\"message\":\"no room left\"")), read::toString);
        assertEquals(1, read.report().rejected().size());
        assertEquals(5, read.report().rejected().get(0).line());
        assertEquals("status", read.report().rejected().get(0).field());
    }

    /** A failed row of a table of backups was once the newest way back. */
    @Test
    void aRowThatFailedIsNoBackupOfATableOfBackupsEither() throws IOException {
        TableReader.Read read = read(JOBS, BOTH.replace("\"both\"", "\"backup\""));
        assertEquals(
                List.of(
                        "backup berths-full-2026-11-20T22:00:00Z",
                        "run berths-full-2026-11-21T22:00:00Z failed",
                        "run berths-full-2026-11-22T22:00:00Z running"),
                said(read));
    }

    private static List<String> said(TableReader.Read read) {
        return read.first().stream()
                .map(Json::object)
                .map(o -> o.path("type").asText() + " " + o.path("id").asText()
                        + (o.path("type").asText().equals("run")
                                ? " " + o.path("outcome").asText()
                                : o.has("run") ? " of " + o.path("run").asText() : ""))
                .sorted()
                .toList();
    }

    @Test
    void whatSaysWhenItEndedAndHowLongItTookStartedBefore() throws IOException {
        TableReader.Read read = read(
                "db,type,end,took\nberths,full,2026-11-20T23:00:00Z,90\n",
                "{\"type\":\"mapping\",\"id\":\"m\",\"of\":\"run\",\"fixed\":{\"outcome\":\"ok\"},\"columns\":{\"db\":\"database\",\"type\":\"kind\",\"end\":\"ended\",\"took\":\"seconds:min\"}}");
        assertTrue(read.first().get(0).contains("\"started\":\"2026-11-20T21:30:00Z\""), read.first()::toString);
        assertEquals(List.of(), read.report().rejected());
    }

    @Test
    void aBadRowIsNamedByLineAndColumnAndKeptAsItCameAndTheOthersAreTaken() throws IOException {
        TableReader.Read read = read("""
                DB;Typ;Beginn;Dauer;MB;Where
                berths;V;"25/10/2026
                01:30";90;1;n1
                berths;V;25/10/2026 01:30;90;many;n1
                berths;X;25/10/2026 01:30;90;1;n1

                berths;V;25/10/2026 01:30;90;1;n1;n2;n3
                berths;D;26/10/2026 01:30;90;1;n1
                """, MAPPED);
        List<ImportReport.Rejected> bad = read.report().rejected();
        assertEquals(
                List.of(2L, 4L, 5L, 7L),
                bad.stream().map(ImportReport.Rejected::line).toList());
        assertEquals(
                List.of("Beginn", "MB", "kind", ""),
                bad.stream().map(ImportReport.Rejected::field).toList());
        assertEquals("is not a number: many", bad.get(1).reason());
        assertEquals("berths;V;25/10/2026 01:30;90;many;n1", bad.get(1).text());
        assertEquals("DB;Typ;Beginn;Dauer;MB;Where", read.report().header());
        assertEquals(1, read.report().added());
    }

    @Test
    void whatCannotBeATableOrLacksAColumnSaysSoAndTakesNothing() {
        assertTrue(assertThrows(NotAFleetFile.class, () -> read("", MAPPED))
                .getMessage()
                .contains("is empty"));
        assertTrue(assertThrows(NotAFleetFile.class, () -> read("DB;Typ\nd;V\n", MAPPED))
                .getMessage()
                .contains("has no column "));
        assertEquals(
                "columns.X points at nowhere, which is not a field of a run or backup",
                assertThrows(
                                IllegalArgumentException.class,
                                () -> Mappings.of("{\"id\":\"m\",\"columns\":{\"X\":\"nowhere\"}}"))
                        .getMessage());
        assertThrows(IllegalArgumentException.class, () -> Mappings.of("{\"id\":\"m\",\"pattern\":\"pp\"}"));
    }

    @Test
    void aSavedTableOfHistoryIsATable() throws IOException {
        ByteArrayOutputStream to = new ByteArrayOutputStream();
        try (HistoryCsv out = new HistoryCsv(to)) {
            Run run = new Run(
                    "r",
                    "d",
                    Kind.FULL,
                    Instant.parse("2026-11-20T22:00:00Z"),
                    Optional.of(Instant.parse("2026-11-20T22:10:00Z")),
                    Outcome.FAILED,
                    Optional.of("no room, \"full\""),
                    "");
            out.write(
                    Optional.of(run),
                    Optional.empty(),
                    new HistoryCsv.Judged(
                            "d",
                            "failed",
                            Optional.of(300.0),
                            Optional.empty(),
                            Optional.of("weekly"),
                            Optional.of("failed"),
                            0,
                            List.of()));
        }
        String[] lines = to.toString(StandardCharsets.UTF_8).split("\r\n");
        assertEquals(2, lines.length);
        assertEquals(
                "d,d,full,r,,2026-11-20T22:00:00Z,2026-11-20T22:10:00Z,failed,600.0,300.0,,,,,weekly,failed,0.0,,,\"no room, \"\"full\"\"\"",
                lines[1]);
    }
}
