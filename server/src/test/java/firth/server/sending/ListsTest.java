package firth.server.sending;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.server.sending.SendingView.SendList;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

/** When something may be sent, and how it is signed. */
class ListsTest {

    private static SendList quiet(String from, String to) {
        return new SendList(
                "l",
                "Watch",
                true,
                List.of("a@b"),
                "",
                "",
                "fleet",
                "",
                "behind",
                true,
                true,
                false,
                from,
                to,
                "Europe/Lisbon",
                "",
                "");
    }

    private static Instant after(String from, String to, String now) {
        return SendLists.after(quiet(from, to), Instant.parse(now));
    }

    @Test
    void quietHoursOvernightEndInTheMorning() {
        assertEquals(Instant.parse("2026-11-21T06:00:00Z"), after("22:00", "06:00", "2026-11-20T22:00:00Z"));
        assertEquals(Instant.parse("2026-11-20T06:00:00Z"), after("22:00", "06:00", "2026-11-20T05:59:59Z"));
        assertEquals(Instant.parse("2026-11-20T06:00:00Z"), after("22:00", "06:00", "2026-11-20T06:00:00Z"));
        assertEquals(Instant.parse("2026-11-20T12:00:00Z"), after("22:00", "06:00", "2026-11-20T12:00:00Z"));
    }

    @Test
    void quietHoursWithinADayEndThatDay() {
        assertEquals(Instant.parse("2026-11-20T14:00:00Z"), after("12:00", "14:00", "2026-11-20T13:00:00Z"));
        assertEquals(Instant.parse("2026-11-20T11:00:00Z"), after("12:00", "14:00", "2026-11-20T11:00:00Z"));
        assertEquals(Instant.parse("2026-11-20T13:00:00Z"), after("", "", "2026-11-20T13:00:00Z"));
    }

    @Test
    void theyGoThroughAClockChangeAsPeopleDo() {
        assertEquals(Instant.parse("2026-10-25T06:00:00Z"), after("22:00", "06:00", "2026-10-24T23:30:00Z"));
    }

    @Test
    void aSignatureIsThatOfIdMomentAndContent() {
        // Computed with OpenSSL: printf 'm1.1700000000.{}' | openssl dgst -sha256 -hmac secret -binary | base64
        assertEquals(
                "6a2BS7tv4ywWskEzv65tBIvuQ6lMqhUAxIXRZuEx1t4=",
                MessageDelivery.signature("c2VjcmV0", "m1.1700000000.", "{}".getBytes(StandardCharsets.UTF_8)));
    }
}
