package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Positions;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whatever comes in: one clear reason for what cannot be taken, and everything else unharmed. */
class BadInputTest {

    private static final String GOOD = "{\"type\":\"site\",\"id\":\"north\"}\n";

    private final MemoryCatalog catalog = new MemoryCatalog();

    private ImportReport read(byte[] bytes) throws IOException {
        return FleetFileReader.read(new ByteArrayInputStream(bytes), "a.ndjson", catalog);
    }

    private ImportReport read(String text) throws IOException {
        return read(text.getBytes(StandardCharsets.UTF_8));
    }

    private void refused(String text, String because) {
        NotAFleetFile e = assertThrows(NotAFleetFile.class, () -> read(text));
        assertTrue(e.getMessage().contains(because), e.getMessage());
        assertTrue(e.getMessage().startsWith("a.ndjson"), e.getMessage());
    }

    @Test
    void whatIsNoFleetFileIsRefusedInOneSentence() {
        refused("", "is empty");
        refused(" \n\n", "is empty");
        refused("%PDF-1.7\u0000\u0001", "binary");
        refused("name,size\nbookings,12\n", "none of its lines is a JSON record");
        refused("{\"type\":\"firth\",\"version\":2}\n" + GOOD, "version 2");
    }

    @Test
    void aPositionMayBeWrittenAsItsEngineDoes() throws IOException {
        String log =
                "{\"type\":\"backup\",\"id\":\"l\",\"database\":\"d\",\"kind\":\"log\",\"from\":\"0/3000000\",\"to\":%s,"
                        + "\"fromTime\":\"2026-01-01T00:00:00Z\",\"toTime\":\"2026-01-01T00:10:00Z\",\"copies\":[]}";
        assertEquals(List.of(), read(log.formatted("\"binlog.000003:4711\"")).rejected());
        Positions taken = catalog.backups().get("d").get(0).positions().get("main");
        assertEquals(new Positions(0x3000000L, (3L << 32) + 4711), taken);
        ImportReport.Rejected none = onlyRejection(log.formatted("\"0/40O0000\""));
        assertEquals("to", none.field());
        assertTrue(none.reason().contains("0/1A2B3C4D"), none.reason());
    }

    /** The only rejection there is; the good line beside it was taken. */
    private ImportReport.Rejected onlyRejection(String line) throws IOException {
        ImportReport report = read(GOOD + line + "\n" + GOOD.replace("north", "south"));
        assertEquals(2, report.added());
        assertEquals(1, report.rejected().size(), report.rejected().toString());
        assertEquals(2, report.rejected().get(0).line());
        return report.rejected().get(0);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "type    | unknown           | {'type':'frobnicate','id':'x'}",
                "type    | missing           | {'id':'x'}",
                "''      | not a JSON object | [1,2]",
                "''      | not JSON          | {'type':",
                "id      | is missing        | {'type':'site'}",
                "id      | not an id         | {'type':'site','id':'a b'}",
                "role    | none of           | {'type':'store','id':'s','role':'middle'}",
                "zone    | IANA              | {'type':'database','id':'d','inServiceFrom':'2026-01-01T00:00:00Z','zone':'Atlantis/Sunk'}",
                "inServiceFrom | is missing  | {'type':'database','id':'d','zone':'UTC'}",
                "inServiceFrom | RFC 3339    | {'type':'database','id':'d','zone':'UTC','inServiceFrom':'2026-02-30T00:00:00Z'}",
                "lineages.openedAt | missing | {'type':'database','id':'d','zone':'UTC','inServiceFrom':'2026-01-01T00:00:00Z','lineages':[{'id':'1'},{'id':'2'}]}",
                "lineages.forkPos | missing  | {'type':'database','id':'d','zone':'UTC','inServiceFrom':'2026-01-01T00:00:00Z','lineages':[{'id':'1'},{'id':'2','parent':'1','openedAt':'2026-01-02T00:00:00Z'}]}",
                "effectiveFrom | is missing  | {'type':'policy','id':'p','version':1}",
                "objective.mishap | negative | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{'mishap':'-PT5M'}}",
                "objective.reach | a month counts | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{'reach':'1 month'}}",
                "schedules.anchor | not a date | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','cron':'0 1 * * *','within':'PT1H','anchor':'soon'}]}",
                "rateLimits.bytesPerSecond | how many bytes | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'rateLimits':[{'hours':'open'}]}",
                "rateLimits.bytesPerSecond | more than 0 | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'rateLimits':[{'bytesPerSecond':0}]}",
                "rateLimits.hours | none of | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'rateLimits':[{'bytesPerSecond':1,'hours':'nights'}]}",
                "rateLimits.days | MO, TU | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'rateLimits':[{'bytesPerSecond':1,'days':['Monday']}]}",
                "rateLimits.from | time of day | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'rateLimits':[{'bytesPerSecond':1,'from':'25:00'}]}",
                "sourceLogs.deletedBy | none of | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'sourceLogs':{'deletedBy':'moon'}}",
                "sourceLogs.afterCopies | leave it out | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'sourceLogs':{'afterCopies':0}}",
                "order | twice | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'order':['full','full']}",
                "order | wait for nothing | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'order':['full','log']}",
                "order | are written | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'order':['half']}",
                "then.after | names the kinds | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'then':[{'take':'log','within':'PT1H'}]}",
                "then.take | for ever | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'then':[{'after':['full'],'take':'full','within':'PT1H'}]}",
                "then.within | how soon | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'then':[{'after':['full'],'take':'log'}]}",
                "trigger | none of           | {'type':'run','id':'r','database':'d','kind':'full','trigger':'moon','started':'2026-01-02T00:00:00Z','outcome':'ok'}",
                "slot.opens | is missing     | {'type':'run','id':'r','database':'d','kind':'full','slot':{'schedule':'s'},'started':'2026-01-02T00:00:00Z','outcome':'ok'}",
                "started | RFC 3339          | {'type':'run','id':'r','database':'d','kind':'full','started':'2026-01-02T23:59:60Z','outcome':'ok'}",
                "lastCommit | after toTime   | {'type':'backup','id':'b','database':'d','kind':'log','from':1,'to':2,'fromTime':'2026-01-01T00:00:00Z','toTime':'2026-01-02T00:00:00Z','lastCommit':'2026-01-02T00:00:01Z'}",
                "copies.path | goes by way of .. | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','copies':[{'store':'n','path':'d/../../x'}]}",
                "copies.path | an empty part | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','copies':[{'store':'n','path':'d//x'}]}",
                "copies.path | an empty part | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','copies':[{'store':'n','path':''}]}",
                "copies.path | control       | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','copies':[{'store':'n','path':'d/\\u0000x'}]}",
                "schedules.within | longer than zero | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','cron':'0 1 * * *','within':'PT0S'}]}",
                "schedules.within | is missing | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','cron':'0 1 * * *'}]}",
                "schedules.every | logs only | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','every':'PT1H'}]}",
                "schedules.rrule | BYHOUR    | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','rrule':'FREQ=DAILY','within':'PT1H'}]}",
                "schedules.rrule | RFC 5545  | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','rrule':'FREQ=DAILY;BYHOUR=2;COUNT=x','within':'PT1H'}]}",
                "schedules.cron | cron       | {'type':'policy','id':'p','effectiveFrom':'2026-01-01T00:00:00Z','objective':{},'schedules':[{'id':'s','kind':'full','cron':'61 1 * * *','within':'PT1H'}]}",
                "ended   | before started    | {'type':'run','id':'r','database':'d','kind':'full','started':'2026-01-02T00:00:00Z','ended':'2026-01-01T00:00:00Z','outcome':'ok'}",
                "outcome | none of           | {'type':'run','id':'r','database':'d','kind':'full','started':'2026-01-02T00:00:00Z','outcome':'fine'}",
                "ended   | is missing        | {'type':'backup','id':'b','database':'d','kind':'full'}",
                "to      | is missing        | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','from':5}",
                "to      | never run backwards | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','from':5,'to':4}",
                "to      | log position      | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','to':9223372036854775808}",
                "fromTime | is missing       | {'type':'backup','id':'b','database':'d','kind':'log','from':1,'to':2}",
                "toTime  | before fromTime   | {'type':'backup','id':'b','database':'d','kind':'log','from':1,'to':2,'fromTime':'2026-01-02T00:00:00Z','toTime':'2026-01-01T00:00:00Z'}",
                "copies.store | twice        | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','copies':[{'store':'n'},{'store':'n'}]}",
                "bytes   | number            | {'type':'backup','id':'b','database':'d','kind':'full','ended':'2026-01-01T00:00:00Z','bytes':-1}",
                "backup  | a hold is on      | {'type':'hold','id':'h','reason':'because'}",
                "to      | before from       | {'type':'closure','id':'c','policy':'p','from':'2026-01-02T00:00:00Z','to':'2026-01-01T00:00:00Z'}",
                "source  | who found         | {'type':'probe','id':'x','database':'d','at':'2026-01-01T00:00:00Z'}",
                "logs    | none of off, on   | {'type':'probe','id':'x','database':'d','source':'r','at':'2026-01-01T00:00:00Z','logs':'perhaps'}",
                "rights.needed | what is needed | {'type':'probe','id':'x','database':'d','source':'r','at':'2026-01-01T00:00:00Z','rights':{'held':[]}}",
                "processes.archiver | neither true | {'type':'probe','id':'x','database':'d','source':'r','at':'2026-01-01T00:00:00Z','processes':{'archiver':'up'}}",
                "logDisk.freeBytes | is missing | {'type':'probe','id':'x','database':'d','source':'r','at':'2026-01-01T00:00:00Z','logDisk':{}}",
            })
    void aBadLineIsNamedByFieldAndReason(String field, String reason, String line) throws IOException {
        ImportReport.Rejected rejected = onlyRejection(line.replace('\'', '"'));
        assertEquals(field.equals("''") ? "" : field, rejected.field());
        assertTrue(rejected.reason().contains(reason), rejected.reason());
    }

    @Test
    void aLineTooLongIsPassedOver() throws IOException {
        String line = "{\"type\":\"site\",\"id\":\"x\",\"name\":\"" + "a".repeat(5 << 20) + "\"}";
        assertTrue(onlyRejection(line).reason().contains("longer than 4 MiB"));
    }

    @Test
    void invalidUtf8IsSaidToBeThat() throws IOException {
        byte[] bytes = (GOOD + "{\"type\":\"site\",\"id\":\"x\",\"name\":\"Q\"}\n").getBytes(StandardCharsets.UTF_8);
        bytes[bytes.length - 4] = (byte) 0xff;
        assertTrue(read(bytes).rejected().get(0).reason().contains("UTF-8"));
    }

    @Test
    void aTruncatedLastLineIsSaidToBeThat() throws IOException {
        ImportReport report = read(GOOD + "{\"type\":\"site\",\"id\":\"so");
        assertTrue(report.rejected().get(0).reason().contains("breaks off"));
        assertEquals(1, report.added());
    }

    @Test
    void aLastLineWithoutALineFeedIsFine() throws IOException {
        assertEquals(1, read(GOOD.strip()).added());
    }

    @ParameterizedTest
    @ValueSource(strings = {"0001-01-01T00:00:00Z", "9999-12-31T23:59:59Z"})
    void momentsFarOutsideThisAgeAreTakenWithAWarning(String moment) throws IOException {
        ImportReport report = read("{\"type\":\"run\",\"id\":\"r\",\"database\":\"d\",\"kind\":\"full\",\"started\":\""
                + moment + "\",\"outcome\":\"running\"}\n");
        assertEquals(1, report.added());
        assertEquals("started", report.warnings().get(0).field());
        assertTrue(report.warnings().get(0).text().contains("outside this age"));
    }

    @Test
    void aPolicyThatPromisesOrRetainsNothingIsTakenWithAWarning() throws IOException {
        ImportReport report = read("{\"type\":\"policy\",\"id\":\"p\",\"effectiveFrom\":\"2026-01-01T00:00:00Z\","
                + "\"retain\":[{\"role\":\"near\",\"reach\":\"PT0S\",\"fulls\":0}]}\n");
        assertEquals(1, report.added());
        assertEquals(
                List.of("objective", "retain.fulls", "retain.reach"),
                report.warnings().stream()
                        .map(ImportReport.Warning::field)
                        .sorted()
                        .toList());
    }

    @Test
    void aFieldNobodyKnowsIsWarnedOfOnce() throws IOException {
        ImportReport report = read(GOOD.replace("}", ",\"tint\":1}") + GOOD.replace("north\"", "south\",\"tint\":2"));
        assertEquals(2, report.added());
        assertEquals(1, report.warnings().size());
    }

    @Test
    void anIdThatTurnsIntoAnotherKindIsTakenWithAWarning() throws IOException {
        String full =
                "{\"type\":\"backup\",\"id\":\"b\",\"database\":\"d\",\"kind\":\"full\",\"ended\":\"2026-01-01T00:00:00Z\"}\n";
        ImportReport report = read(full + full.replace("full", "config") + GOOD.replace("north", "b"));
        assertEquals(2, report.added(), "ids are unique per type: a site may be called b too");
        assertEquals(1, report.updated());
        assertEquals("id", report.warnings().get(0).field());
        assertEquals(2, report.warnings().get(0).line());
    }

    @Test
    void aParentThatNeverComesIsKept() throws IOException {
        ImportReport report =
                read("{\"type\":\"backup\",\"id\":\"i\",\"database\":\"d\",\"kind\":\"incr\",\"parent\":\"never\","
                        + "\"ended\":\"2026-01-01T00:00:00Z\"}\n");
        assertEquals(1, report.added());
        assertEquals(0, report.rejected().size());
    }

    @Test
    void compressedAndMarkedFilesAreReadAsTheyAre() throws IOException {
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(packed)) {
            zip.write(GOOD.getBytes(StandardCharsets.UTF_8));
        }
        assertEquals(1, read(packed.toByteArray()).added());
        assertEquals(1, read("\ufeff" + GOOD).unchanged());
    }

    @ParameterizedTest
    @CsvSource({
        "PT10M, PT10M",
        "P2W, PT336H",
        "P1DT1H, PT25H",
        "P18D, PT432H",
        "PT0.5S, PT0.5S",
        "P1W1D, PT192H",
        "P1M, PT744H",
        "P1Y, PT8784H",
        "P1Y2M3DT4H, PT10348H",
    })
    void durationsNeverFallShortOfTheCalendar(String text, String expected) {
        assertEquals(java.time.Duration.parse(expected), Texts.duration(text).orElseThrow());
    }

    @ParameterizedTest
    @ValueSource(strings = {"P", "PT", "P1DT", "P1M1Y", "10M", "P99999999999999999999D", "PT1H1", ""})
    void otherDurationsAreRefused(String text) {
        assertTrue(Texts.duration(text).isEmpty());
    }

    @ParameterizedTest
    @CsvSource({
        "2026-02-11T14:48:00Z, 2026-02-11T14:48:00Z",
        "2026-02-11T14:48:00.123456Z, 2026-02-11T14:48:00.123Z",
        "2026-02-11T15:48:00+01:00, 2026-02-11T14:48:00Z",
        "2026-02-11t14:48:00z, 2026-02-11T14:48:00Z",
    })
    void instantsAreHeldToTheMillisecond(String text, String expected) {
        assertEquals(java.time.Instant.parse(expected), Texts.instant(text).orElseThrow());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "2026-02-11",
                "2026-02-11T14:48Z",
                "2026-02-11T14:48:00",
                "2026-02-29T00:00:00Z",
                "yesterday",
                "2026-12-31T23:59:60Z",
                "2026-12-31T24:00:00Z",
                "2026-12-31T24:00:00+01:00"
            })
    void otherInstantsAreRefused(String text) {
        assertTrue(Texts.instant(text).isEmpty());
    }
}
