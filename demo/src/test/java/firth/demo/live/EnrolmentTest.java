package firth.demo.live;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Followers;
import firth.core.findings.PolicyFlaws;
import firth.core.model.PolicyVersion;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import org.junit.jupiter.api.Test;

class EnrolmentTest {

    @Test
    void slotsOpenEveryFewMinutesFromSoonOn() throws Exception {
        for (int minute = 0; minute < 60; minute++) {
            Instant now = Instant.parse("2026-11-30T10:00:20Z").plus(minute, ChronoUnit.MINUTES);
            String lines = String.join("\n", Enrolment.lines(now));
            assertFalse(lines.contains("\"cron\":\" "), lines);
            int soon = (minute + 1) % 60;
            String policy = Enrolment.lines(now).stream()
                    .filter(l -> l.contains("\"id\":\"tideline\""))
                    .findFirst()
                    .orElseThrow();
            String minutes = policy.replaceFirst(".*?\"cron\":\"([0-9,]*) .*", "$1");
            assertEquals(12, minutes.split(",").length, minutes);
            assertTrue(("," + minutes + ",").contains("," + soon + ","), minutes + " from " + soon);
        }
    }

    @Test
    void allOfItIsTakenAndNothingContradictsItself() throws Exception {
        Instant now = Instant.parse("2026-11-30T10:58:20Z");
        byte[] bytes = String.join("\n", Enrolment.lines(now)).getBytes(StandardCharsets.UTF_8);
        ImportReport report = FleetFileReader.read(new ByteArrayInputStream(bytes), "live", new MemoryCatalog());
        assertEquals(List.of(), report.rejected());
        assertEquals(List.of(), report.warnings());
        assertEquals(11, report.added());
        for (String line : Enrolment.lines(now)) {
            if (line.startsWith("{\"type\":\"policy\"")) {
                PolicyVersion policy = (PolicyVersion) FleetFileReader.recordOf(line);
                assertEquals(List.of(), PolicyFlaws.of(policy, Followers.together(List.of()), now), policy.id());
            }
        }
    }
}
