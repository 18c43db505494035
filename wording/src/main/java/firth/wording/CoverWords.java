package firth.wording;

import firth.core.cover.Gap;
import firth.core.findings.Detail;
import firth.core.findings.Failing;
import firth.core.findings.Finding;
import firth.core.findings.WayOut;
import firth.core.model.Hazard;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What is wrong with what can be restored, in words. */
final class CoverWords {

    private CoverWords() {}

    static Said nothingRestorable(Finding f, Detail.NothingRestorable d) {
        return new Said(
                "nothing can be restored",
                "There is nothing left to restore from. "
                        + d.failing().map(x -> failed(x, d.zone())).orElse("None of its backups is usable."),
                action(
                        f.waysOut(),
                        d.failing().isPresent(),
                        Optional.of(" Nothing from before comes back."),
                        d.zone()));
    }

    static Said neverBackedUp(Detail.NeverBackedUp d) {
        return new Said(
                "no backup was ever taken",
                "Nothing can be restored, and no run has ever been reported"
                        + d.policy()
                                .map(p -> ", though " + p + " asks for backups.")
                                .orElse("."),
                "Give its runner or its own scheduler the policy's tasks, or take a full now.");
    }

    static Said tooOld(Finding f, Detail.TooOld d) {
        String why = d.logs()
                .map(CoverWords::broken)
                .or(() -> d.failing().map(x -> failed(x, d.zone())))
                .orElse("Nothing has landed since, and no run was started.");
        return new Said(
                Wording.measured(d.age()) + " would be lost",
                "The newest moment that can be restored is " + at(d.point(), d.zone()) + "; the promise is to"
                        + " lose at most " + Wording.duration(d.objective()) + ". " + why,
                action(f.waysOut(), d.failing().isPresent(), Optional.empty(), d.zone()));
    }

    static Said newestLogsUseless(Finding f, Detail.NewestLogsUseless d) {
        return new Said(
                "the newest logs cannot be used",
                broken(d.logs()),
                action(f.waysOut(), false, Optional.empty(), d.zone()));
    }

    static Said reachShort(Detail.ReachShort d) {
        return new Said(
                "reach is " + Wording.measured(d.achieved()),
                "The promise is to go back "
                        + d.promised().map(Wording::duration).orElse("any time")
                        + d.oldest()
                                .map(o -> "; every moment can be restored only from " + at(o, d.zone()) + " on.")
                                .orElse("; nothing can be restored."),
                "What is gone cannot be brought back; reach grows again by itself.");
    }

    static Said holeInReach(Detail.HoleInReach d) {
        String why = d.logs().map(g -> missing(g) + ".").orElse("No remaining backup reaches into it.");
        return new Said(
                Wording.measured(Duration.between(d.from(), d.to())) + " inside reach cannot be restored",
                "Between " + at(d.from(), d.zone()) + " and " + at(d.to(), d.zone())
                        + " no continuous stretch of time can be restored. " + why,
                "It cannot be repaired; "
                        + d.leaves()
                                .map(l -> "it leaves reach on " + at(l, d.zone()))
                                .orElse("it stays in reach for as long as can be foreseen")
                        + ".");
    }

    static Said hazardMissed(Finding f, Detail.HazardMissed d) {
        boolean site = d.hazard() == Hazard.SITE_LOSS;
        String elsewhere = site ? "at another site" : "under a lock";
        return new Said(
                Wording.measured(d.age()) + " would be lost " + (site ? "with the site" : "to sabotage"),
                d.point()
                                .map(p -> "The copies " + elsewhere + " restore up to " + at(p, d.zone())
                                        + " and nothing later; ")
                                .orElse("No copy " + elsewhere + " restores anything; ")
                        + "the promise is to lose at most "
                        + d.objective().map(Wording::duration).orElse("") + ".",
                ends(f.waysOut())
                        .map(w -> WayWords.of(w) + ".")
                        .orElse("None of the stores can help: one " + elsewhere + " is needed."));
    }

    private static String at(Instant moment, ZoneId zone) {
        return Wording.shortMoment(moment, zone);
    }

    private static String failed(Failing f, ZoneId zone) {
        return f.runs() + (f.runs() == 1 ? " run" : " runs") + " failed since " + at(f.first(), zone)
                + Wording.quoted(f.message()) + ".";
    }

    private static String broken(Detail.MissingLogs logs) {
        return missing(logs) + ": no log after them can be used until the next data backup.";
    }

    private static String missing(Detail.MissingLogs logs) {
        Gap gap = logs.gap();
        String stream = logs.severalStreams() ? " of stream " + gap.stream() : "";
        return "Logs " + PositionWords.written(logs.engine(), gap.from()) + " to "
                + PositionWords.written(logs.engine(), gap.to()) + stream + " "
                + switch (gap.cause()) {
                    case PURGED -> "were purged";
                    case SPOILED -> "are spoiled";
                    case FAILED -> "are missing, their run failed";
                    case NEVER_BACKED_UP -> "were never backed up";
                };
    }

    private static Optional<WayOut> ends(List<WayOut> tried) {
        return tried.stream().filter(WayOut::ends).findFirst();
    }

    /**
     * The best of what was tried, and what it leaves.
     *
     * @param lost what is lost with it where no hole stays
     */
    private static String action(List<WayOut> tried, boolean fails, Optional<String> lost, ZoneId zone) {
        Optional<WayOut> best = ends(tried);
        if (best.isEmpty()) {
            return "Nothing that was tried brings cover back at once.";
        }
        String stays = best.get()
                .stays()
                .map(s -> " The hole from " + at(s.from(), zone) + " to " + at(s.to(), zone) + " stays"
                        + best.get()
                                .leaves()
                                .map(l -> " until it leaves reach on " + at(l, zone))
                                .orElse("")
                        + ".")
                .orElse(lost.orElse(" No moment is lost then."));
        String way = WayWords.of(best.get());
        return (fails ? "Fix what fails, then " + way.substring(0, 1).toLowerCase(Locale.ROOT) + way.substring(1) : way)
                + "." + stays;
    }
}
