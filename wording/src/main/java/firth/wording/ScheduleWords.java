package firth.wording;

import firth.core.findings.Detail;
import firth.core.forecast.Comparison;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.format.TextStyle;
import java.util.Locale;

/** Slots that were not kept, runs that brought nothing and backups unlike those before them, in words. */
final class ScheduleWords {

    private ScheduleWords() {}

    static Said slotNotKept(Detail.SlotNotKept d) {
        return new Said(
                "its " + Wording.kindName(d.kind()) + (d.failed() ? " failed" : " was not started"),
                (d.failed() ? "Every attempt failed" : "Nothing was started") + " in the window from "
                        + Wording.shortMoment(d.open(), d.zone()) + " to " + Wording.shortMoment(d.close(), d.zone())
                        + (d.inARow() == 1 ? "" : ", " + d.inARow() + " times in a row")
                        + d.failing().map(f -> Wording.quoted(f.message())).orElse("") + ".",
                d.failed()
                        ? "Fix what fails; the next slot tries again."
                        : "Check that the scheduler on its host is running.");
    }

    static Said slotCost(Detail.SlotCost d) {
        String how = switch (d.cost()) {
            case LATE -> " started late";
            case OVERRAN -> " did not finish in time";
            case SPILLED -> " ran " + Wording.measured(d.spill()) + " outside open hours";
        };
        return new Said(
                "its " + Wording.kindName(d.kind()) + how,
                "It was due from " + Wording.shortMoment(d.open(), d.zone()) + " to "
                        + Wording.shortMoment(d.close(), d.zone()) + " and took " + Wording.measured(d.took()) + ".",
                "Try an earlier slot or a lighter kind in Week.");
    }

    static Said logsNotTaken(Detail.LogsNotTaken d) {
        return new Said(
                "its logs are not being backed up",
                d.missed() + " log backups have been due since " + Wording.shortMoment(d.since(), d.zone())
                        + ", and none was started.",
                "Check that the archiver on its host is running.");
    }

    static Said broughtNothing(Detail.BroughtNothing d) {
        return new Said(
                "a run of its " + Wording.kindName(d.kind()) + " reported success but left no backup",
                "It ended on " + Wording.shortMoment(d.ended(), d.zone())
                        + ", and no backup from it is known, although earlier runs left theirs. Nothing can be restored from it.",
                "Look at what it wrote and where; if there is a backup, report it.");
    }

    static Said unusual(Detail.Unusual d) {
        Comparison c = d.figures();
        return new Said(
                "its " + Wording.kindName(d.kind()) + (d.size() ? " is " : " took ") + figure(d, c.own()),
                "The " + c.of() + " before it" + c.day().map(ScheduleWords::on).orElse("") + " were mostly "
                        + figure(d, c.median()) + ", give or take " + figure(d, c.spread()) + ".",
                c.own() > c.median()
                        ? "Look at what was written, or at what slowed it down."
                        : "Check that everything that should be in it is.");
    }

    private static String figure(Detail.Unusual d, double value) {
        return d.size() ? Wording.bytes(value) : Wording.measured(Duration.ofMillis(Math.round(value)));
    }

    private static String on(DayOfWeek day) {
        return " on a " + day.getDisplayName(TextStyle.FULL, Locale.ENGLISH);
    }
}
