package firth.server.evaluation;

import firth.core.time.Span;
import firth.exchange.Texts;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Turns the as-of and period of a request into moments. */
@ApplicationScoped
public class Lookout {

    /** The stretch pages are about where none is chosen. */
    private static final Duration DEFAULT_PERIOD = Duration.ofDays(30);

    /** Clocks of hosts may run ahead of ours by so much; the moments they tell are believed. */
    private static final Duration AHEAD = Duration.ofMinutes(5);

    private final FactsHolder facts;
    private final Clock clock;

    public Lookout(FactsHolder facts, Clock clock) {
        this.facts = facts;
        this.clock = clock;
    }

    /** What is given in place of a moment where the clock is meant though no program ever reported. */
    private static final String NOW = "now";

    /**
     * A moment and the stretch before it that a request is about.
     *
     * @param moves whether the moment moves on by itself, with the clock or with what comes in
     * @param stands whether it is where pages stand while no moment is chosen
     */
    public record View(Instant asOf, Span period, boolean moves, boolean stands) {

        /** A moment that was chosen. */
        public View(Instant asOf, Span period) {
            this(asOf, period, false, false);
        }

        /** The same view as it was at an earlier moment, where it moves on. */
        View earlier(Instant moment) {
            if (!moves) {
                return this;
            }
            return new View(
                    moment,
                    period.to().equals(asOf) ? new Span(moment.minus(period.length()), moment) : period,
                    true,
                    stands);
        }

        /** Whether this is what pages show where nothing is chosen. */
        boolean isUsual() {
            return stands && period.to().equals(asOf) && period.length().equals(DEFAULT_PERIOD);
        }

        /** What answers are kept under: where the moment moves on they serve for as long as time alone does not change them. */
        Object kept() {
            if (!moves) {
                return this;
            }
            return period.to().equals(asOf) ? period.length() : period;
        }
    }

    /** The whole second we are in: for what is kept and shown. A fact may be of later in that second. */
    public Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.SECONDS);
    }

    /**
     * What to look at.
     *
     * @param asOf an RFC 3339 instant; {@code now}: the clock's; absent: where the page stands
     * @param period an ISO 8601 duration before it, or FROM/TO; absent: 30 days
     */
    public View view(@Nullable String asOf, @Nullable String period) {
        boolean chosen = looksBack(asOf);
        boolean present = !chosen && (NOW.equals(asOf) || goesByTheClock());
        Instant moment = chosen ? instant("asOf", asOf) : present ? clockTime() : standsAt();
        return new View(
                moment,
                period == null || period.isEmpty() ? before(moment, DEFAULT_PERIOD) : span(moment, period),
                !chosen,
                !chosen && present == goesByTheClock());
    }

    /**
     * This very moment, by the clock: what whoever acts judges by. It is about no stretch before it.
     */
    public View present() {
        return at(clockTime());
    }

    /** Whether pages stand at the clock where no moment is chosen: once a program has reported. */
    public boolean goesByTheClock() {
        return facts.store().programReported();
    }

    /** What pages show by the clock, whether a program has reported or not. */
    public View viewNow() {
        return view(NOW, "");
    }

    private Instant clockTime() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    /**
     * Where a page stands while no moment is chosen: at the clock, so that ages grow while sources are silent; at the newest fact where
     * no program ever reported, for there nobody is silent (docs/decisions/02-where-the-page-stands.md).
     */
    public Instant standsAt() {
        return goesByTheClock() ? clockTime() : newestFact();
    }

    /** Whether a moment was chosen, rather than where the page stands or the clock's. */
    public static boolean looksBack(@Nullable String asOf) {
        return asOf != null && !asOf.isEmpty() && !asOf.equals(NOW);
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
    public Instant believed(Instant told) {
        Instant now = clock.instant();
        return told.isAfter(now.plus(AHEAD)) ? now : told;
    }

    /** When something was that another clock tells of as past: no later than now; empty where it lies further ahead than clocks differ. */
    public Optional<Instant> passed(Instant told) {
        Instant now = clockTime();
        return told.isAfter(now.plus(AHEAD)) ? Optional.empty() : Optional.of(told.isAfter(now) ? now : told);
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

    public static Instant instant(String name, @Nullable String text) {
        return Texts.instant(text == null ? "" : text)
                .orElseThrow(() -> new BadRequest(name, "is not an RFC 3339 instant such as 2026-11-23T09:12:00Z"));
    }
}
