package firth.server.watch;

import firth.core.adherence.Attempt;
import firth.core.adherence.Attempts;
import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.forecast.Expected;
import firth.core.forecast.Habits;
import firth.core.forecast.Usual;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.time.Span;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Answered;
import firth.server.evaluation.PolicyFollowers;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;

/** What a database adds to the morning: its night, what runs of it and what comes. */
@Singleton
class MorningPart implements SummaryPart<MorningPart.Dawn> {

    /** How far ahead Watch looks. */
    static final Duration AHEAD = Duration.ofHours(12);

    /** An answer may be looked at for so long after it was worked out. */
    private static final Duration LATER = Duration.ofHours(1);

    /** Nights begin at noon, so that the last began two days ago at the most. */
    private static final Duration NIGHT = Duration.ofDays(2);

    private final PolicyFollowers following;

    MorningPart(PolicyFollowers following) {
        this.following = following;
    }

    /** A slot of the last two days. */
    record NightSlot(Instant open, SlotVerdict verdict) {}

    /** A data or config backup of the last weeks. */
    record WrittenBackup(long endedMs, double bytes) {}

    /**
     * One database.
     *
     * @param next slots of the next hours, some more than are shown
     * @param every the shortest interval at which logs are asked for; empty where there is none, or they come as a stream
     * @param streamed whether its logs come as a stream
     */
    record Dawn(
            Database database,
            String grade,
            List<NightSlot> slots,
            List<WrittenBackup> written,
            List<Watch.Running> running,
            List<Watch.Next> next,
            Optional<Duration> every,
            boolean streamed,
            Optional<Watch.Moment> lastGood,
            Optional<Watch.Moment> lastFailed) {

        Watch.GradedDatabase named() {
            return new Watch.GradedDatabase(database.id(), database.name(), grade);
        }
    }

    @Override
    public Dawn of(Answered one) {
        Evaluation e = one.answer();
        Habits habits = following.basis(one.alone(), e).habits();
        boolean streamed = habits.logs().streamed();
        return new Dawn(
                e.database(),
                e.grade().word(),
                e.slots().stream()
                        .filter(s -> !s.open().isBefore(e.asOf().minus(NIGHT)))
                        .map(s -> new NightSlot(s.open(), s.verdict()))
                        .toList(),
                written(e),
                running(e, habits),
                next(one, habits),
                streamed ? Optional.empty() : every(e),
                streamed,
                lastGood(e),
                lastFailed(e));
    }

    @Override
    public Object told(Dawn value) {
        return value;
    }

    private static List<WrittenBackup> written(Evaluation e) {
        History h = e.history();
        long since = e.asOf().minus(NIGHT.plusDays(7L * Nights.WEEKS)).toEpochMilli();
        List<WrittenBackup> out = new ArrayList<>();
        for (int i : h.others()) {
            if (h.endedMs(i) >= since) {
                out.add(new WrittenBackup(h.endedMs(i), Habits.bytes(h, i)));
            }
        }
        return out;
    }

    private static List<Watch.Running> running(Evaluation e, Habits habits) {
        List<Watch.Running> out = new ArrayList<>();
        for (Attempt a : Attempts.known(e.history(), e.asOf(), EnumSet.allOf(Kind.class))) {
            if (a.state() == Attempt.Progress.RUNNING) {
                Optional<Usual> usual = habits.usual(a.kind());
                out.add(new Watch.Running(
                        e.database().id(),
                        e.database().name(),
                        a.kind().word(),
                        a.id(),
                        a.started(),
                        usual.map(u -> a.started().plus(u.median())).orElse(null),
                        usual.map(Usual::bytes).filter(b -> b > 0).orElse(null),
                        Courses.progress(e.history(), a.id()).orElse(null)));
            }
        }
        return out;
    }

    private static List<Watch.Next> next(Answered one, Habits habits) {
        Evaluation e = one.answer();
        if (e.version().filter(PolicyVersion::enabled).isEmpty()) {
            return List.of();
        }
        Span ahead = new Span(e.asOf(), e.asOf().plus(AHEAD).plus(LATER));
        return Expected.of(one.facts(), one.fleet(), habits, e.asOf(), ahead).stream()
                .filter(Expected::runs)
                .map(x -> new Watch.Next(
                        e.database().id(),
                        e.database().name(),
                        x.slot().kind().word(),
                        x.slot().open(),
                        x.slot().close(),
                        x.usual().map(u -> CoverRows.seconds(u.median())).orElse(null)))
                .toList();
    }

    private static Optional<Duration> every(Evaluation e) {
        return e.version().filter(PolicyVersion::enabled).stream()
                .flatMap(v -> v.live().stream())
                .flatMap(s -> s.every().stream())
                .min(Comparator.naturalOrder());
    }

    private static Optional<Watch.Moment> lastGood(Evaluation e) {
        History h = e.history();
        Watch.Moment good = null;
        for (int i : h.others()) {
            Instant ended = Instant.ofEpochMilli(h.endedMs(i));
            if (h.kind(i).isData() && !ended.isAfter(e.asOf()) && (good == null || ended.isAfter(good.at()))) {
                good = moment(e, h.kind(i), ended);
            }
        }
        return Optional.ofNullable(good);
    }

    private static Optional<Watch.Moment> lastFailed(Evaluation e) {
        Watch.Moment bad = null;
        for (List<Run> failed :
                List.of(e.history().failedDataRuns(), e.history().failedLogRuns())) {
            for (Run r : failed) {
                Instant ended = r.ended().orElse(r.started());
                if (!ended.isAfter(e.asOf()) && (bad == null || ended.isAfter(bad.at()))) {
                    bad = moment(e, r.kind(), ended);
                }
            }
        }
        return Optional.ofNullable(bad);
    }

    private static Watch.Moment moment(Evaluation e, Kind kind, Instant at) {
        return new Watch.Moment(e.database().id(), e.database().name(), kind.word(), at);
    }
}
