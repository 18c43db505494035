package firth.server;

import firth.core.time.Span;
import firth.exchange.Texts;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;

/** Turns the as-of and period of a request into moments. */
@ApplicationScoped
public class Lookout {

    private static final Duration DEFAULT_PERIOD = Duration.ofDays(30);

    /** Clocks of hosts may run ahead of ours by so much; the moments they tell are believed. */
    private static final Duration AHEAD = Duration.ofMinutes(5);

    private final FactsHolder facts;
    private final Clock clock;

    Lookout(FactsHolder facts, Clock clock) {
        this.facts = facts;
        this.clock = clock;
    }

    /** A moment and the stretch before it that a request is about. */
    public record View(Instant asOf, Span period) {}

    /** The whole second we are in: for what is kept and shown. A fact may be of later in that second. */
    public Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.SECONDS);
    }

    /**
     * What to look at.
     *
     * @param asOf an RFC 3339 instant; absent: the newest moment at which something is recorded to have happened
     * @param period an ISO 8601 duration before it, or FROM/TO; absent: 30 days
     */
    public View view(String asOf, String period) {
        Instant moment = asOf == null || asOf.isEmpty() ? newestFact() : instant("asOf", asOf);
        return new View(
                moment, period == null || period.isEmpty() ? before(moment, DEFAULT_PERIOD) : span(moment, period));
    }

    /**
     * This very moment, by the clock: what whoever acts judges by. It is about no stretch before it.
     */
    public View present() {
        return at(clock.instant().truncatedTo(ChronoUnit.MILLIS));
    }

    /** A moment alone. */
    public View at(Instant moment) {
        return new View(moment, new Span(moment, moment));
    }

    /** The newest fact, as far as the clock has come; now where there is none. */
    public Instant newestFact() {
        try (Snapshot snapshot = facts.store().read()) {
            Instant now = clock.instant();
            return snapshot.sources().stream()
                    .map(Snapshot.Source::newestFact)
                    .flatMap(Optional::stream)
                    .max(Instant::compareTo)
                    .filter(newest -> newest.isBefore(now))
                    .orElse(now);
        }
    }

    /** The moment a source is taken to have come to that tells of this one: now, where it is far ahead of our clock. */
    Instant believed(Instant told) {
        Instant now = clock.instant();
        return told.isAfter(now.plus(AHEAD)) ? now : told;
    }

    private static Span span(Instant moment, String period) {
        int slash = period.indexOf('/');
        if (slash >= 0) {
            Instant from = instant("period", period.substring(0, slash));
            Instant to = instant("period", period.substring(slash + 1));
            if (to.isBefore(from)) {
                throw new BadRequest("period", "ends before it begins");
            }
            return new Span(from, to);
        }
        return before(
                moment,
                Texts.duration(period)
                        .filter(d -> !d.isNegative() && !d.isZero())
                        .orElseThrow(() -> new BadRequest("period", "is neither a duration such as P30D nor FROM/TO")));
    }

    private static Span before(Instant moment, Duration period) {
        try {
            return new Span(moment.minus(period), moment);
        } catch (DateTimeException | ArithmeticException e) {
            throw new BadRequest("period", "is longer than time");
        }
    }

    static Instant instant(String name, String text) {
        return Texts.instant(text)
                .orElseThrow(() -> new BadRequest(name, "is not an RFC 3339 instant such as 2026-11-23T09:12:00Z"));
    }
}
