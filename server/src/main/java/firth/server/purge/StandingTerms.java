package firth.server.purge;

import com.fasterxml.jackson.core.JsonProcessingException;
import firth.core.findings.Finding.Urgency;
import firth.core.model.Worded;
import firth.core.purge.StandingPurge;
import firth.exchange.Texts;
import firth.server.platform.BadRequest;
import firth.server.platform.Secrets;
import firth.store.StandingPurges;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneId;

/** What standing purges say, as it is written down and read. */
final class StandingTerms {

    private static final int MOST_COPIES = 5_000;
    private static final Duration LONGEST = Duration.ofDays(3_660);

    private StandingTerms() {}

    /** @throws BadRequest where something of it is out of bounds */
    static StandingPurge of(StandingView.Terms t) {
        Duration obsoleteFor = Texts.duration(text("obsoleteFor", t.obsoleteFor()))
                .filter(d -> !d.isNegative() && d.compareTo(LONGEST) <= 0)
                .orElseThrow(() -> new BadRequest("obsoleteFor", "is no duration such as P7D, of ten years at most"));
        if (t.copies() < 1 || t.copies() > MOST_COPIES) {
            throw new BadRequest("copies", "is " + t.copies() + "; a night takes 1 to " + MOST_COPIES);
        }
        if (!(t.bytes() > 0) || Double.isInfinite(t.bytes())) {
            throw new BadRequest("bytes", "is not more than nothing");
        }
        return new StandingPurge(
                text("policy", t.policy()),
                obsoleteFor,
                t.copies(),
                t.bytes(),
                time("from", t.from()),
                time("to", t.to()),
                zone(t.zone()),
                Worded.find(Urgency.class, text("pausedBy", t.pausedBy()))
                        .orElseThrow(() ->
                                new BadRequest("pausedBy", "is none of broken, will-break, besides and housekeeping")));
    }

    /** What a rule says that was kept. */
    static StandingView.Terms terms(StandingPurges.Rule rule) {
        try {
            return PurgeChoices.JSON.readValue(rule.rule(), StandingView.Terms.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("What the standing purge " + rule.num() + " says cannot be read", e);
        }
    }

    static StandingPurge of(StandingPurges.Rule rule) {
        return of(terms(rule));
    }

    /** What shows that a rule says what was seen and agreed to. */
    static String hash(String policy, String rule) {
        return Secrets.hash(policy + "\n" + rule);
    }

    private static String text(String field, String value) {
        if (value == null || value.isBlank()) {
            throw new BadRequest(field, "is missing");
        }
        return value;
    }

    private static LocalTime time(String field, String value) {
        try {
            return LocalTime.parse(text(field, value));
        } catch (DateTimeException e) {
            throw new BadRequest(field, "is " + value + " and not HH:MM");
        }
    }

    private static ZoneId zone(String value) {
        try {
            return ZoneId.of(text("zone", value));
        } catch (DateTimeException e) {
            throw new BadRequest("zone", "is " + value + ", which is no time zone");
        }
    }
}
