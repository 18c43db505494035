package firth.server.week;

import firth.core.adherence.Slot;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Unserved;
import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.forecast.Usual;
import firth.core.forecast.Writing;
import firth.core.model.Database;
import firth.core.time.Span;
import firth.server.evaluation.Answered;
import firth.server.evaluation.PolicyFollowers;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What is expected of a database in the week around the present. */
@Singleton
class WeekPart implements SummaryPart<WeekPart.WeekAhead> {

    private static final Duration SHOWN = Duration.ofDays(30);

    /** A week begins at the noon before, and an answer may be looked at a while after it was worked out. */
    private static final Duration BEFORE = Duration.ofDays(2);

    private static final Duration AFTER = Duration.ofDays(9);

    private final PolicyFollowers following;

    WeekPart(PolicyFollowers following) {
        this.following = following;
    }

    /**
     * A slot that opens, and how its run will go if it goes as usual.
     *
     * @param overrun by how much it will overrun a window it must finish in; zero where it fits
     */
    record Coming(
            Slot slot,
            boolean mustFinish,
            Optional<Usual> usual,
            Optional<String> store,
            boolean off,
            Duration overrun,
            Optional<Writing> writing) {

        private static Coming of(Expected e, Database database) {
            return new Coming(
                    e.slot(),
                    e.schedule().mustFinish(),
                    e.usual(),
                    e.store(),
                    e.off(),
                    e.overrun(),
                    e.writing(database.name()));
        }
    }

    /** A schedule whose slots nobody starts. */
    record Idle(String schedule, long missed, Instant since) {}

    /**
     * A database with what is expected of it.
     *
     * @param known in which stretch
     * @param asked whether a schedule of it is switched on
     * @param writings how fast its backups wrote of late
     */
    record WeekAhead(
            Database database,
            Span known,
            List<Coming> expected,
            boolean asked,
            List<Idle> unserved,
            List<Writing> writings) {

        boolean reaches(Span week) {
            return !known.from().isAfter(week.from()) && !known.to().isBefore(week.to());
        }

        WeekAhead within(Span week) {
            return new WeekAhead(
                    database,
                    week,
                    expected.stream()
                            .filter(e -> opens(e).compareTo(week.from()) >= 0 && opens(e).isBefore(week.to()))
                            .toList(),
                    asked,
                    unserved,
                    writings);
        }

        private static Instant opens(Coming e) {
            return e.slot().open();
        }
    }

    @Override
    public WeekAhead of(Answered one) {
        Instant now = one.answer().asOf();
        return ahead(one, new Span(now.minus(BEFORE), now.plus(AFTER)));
    }

    WeekAhead ahead(Answered one, Span span) {
        Evaluation e = one.answer();
        Habits habits = following.basis(one.alone(), e).habits();
        return new WeekAhead(
                e.database(),
                span,
                Expected.of(one.facts(), one.fleet(), habits, e.asOf(), span).stream()
                        .map(x -> Coming.of(x, e.database()))
                        .toList(),
                e.version().filter(v -> !v.live().isEmpty()).isPresent(),
                Unserved.of(e).stream()
                        .map(u -> new Idle(u.schedule().id(), u.missed(), u.since()))
                        .toList(),
                habits.writings(SHOWN));
    }
}
