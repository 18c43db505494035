package firth.wording.explain;

import firth.core.adherence.Attempt;
import firth.core.adherence.CadenceGap;
import firth.core.adherence.Slot;
import firth.wording.explain.Explanation.Fact;
import firth.wording.explain.Explanation.Phrase;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Explains the verdicts of slots, and logs that came too far apart. */
final class ScheduleWhy {

    private ScheduleWhy() {}

    static Explanation slot(Slot slot) {
        List<Phrase> answer = new ArrayList<>(List.of(
                Phrase.words("The run could start from "),
                Phrase.at(slot.open()),
                Phrase.words(" until "),
                Phrase.at(slot.close()),
                Phrase.words("; " + meaning(slot))));
        if (!slot.spill().isZero()) {
            answer.add(Phrase.words(" Its runs ran "));
            answer.add(Phrase.lasting(slot.spill().toMillis()));
            answer.add(Phrase.words(" outside the open hours."));
        }
        List<Fact> facts = new ArrayList<>();
        for (Attempt run : slot.runs()) {
            facts.add(new Fact(state(run), Optional.of(run.id()), Optional.of(run.started()), ended(run)));
        }
        slot.grounds().forEach(g -> facts.add(ground(g)));
        facts.add(new Fact(
                "policy, version " + slot.version(),
                Optional.of(slot.policy()),
                Optional.empty(),
                "asks for it by its schedule " + slot.schedule()));
        return new Explanation(
                "Why " + slot.verdict().word(),
                answer,
                facts,
                "A run belongs to the slot of its kind that opened last before it started; the verdict is the first that fits of"
                        + " superseded, excused, on time, overran, late, running, failed or retrying, missed, due, planned.",
                "Slots");
    }

    private static String meaning(Slot slot) {
        return switch (slot.verdict()) {
            case SUPERSEDED -> "a stronger or equal run served in its place.";
            case EXCUSED -> "the database was stopped, or a closure covers all of it.";
            case ON_TIME -> "one did, and ended well.";
            case OVERRAN -> "one did, but ended after it had to.";
            case LATE -> "the first that ended well started later.";
            case RUNNING -> "one is running.";
            case FAILED -> "every attempt failed.";
            case RETRYING -> "every attempt has failed so far; there is still time.";
            case MISSED -> "none did.";
            case DUE -> "none has yet.";
            case PLANNED -> "that is still to come.";
        };
    }

    private static String state(Attempt run) {
        return switch (run.state()) {
            case OK -> "run that ended well";
            case UNSUCCESSFUL -> "run that failed";
            case RUNNING -> "run under way";
        };
    }

    private static String ended(Attempt run) {
        return run.ended()
                .map(end -> "took " + Duration.between(run.started(), end).toMinutes() + " min")
                .orElse("");
    }

    private static Fact ground(Slot.Ground g) {
        String label = switch (g.what()) {
            case RUN -> "run that served in its place";
            case SLOT -> "slot of a stronger kind that overlaps it";
            case CLOSURE -> "closure from";
            case STOPPED -> "database stopped from";
        };
        return new Fact(label, g.id(), Optional.of(g.at()), "");
    }

    static Explanation cadence(CadenceGap gap) {
        List<Phrase> answer = new ArrayList<>(List.of(Phrase.words("After "), Phrase.at(gap.from())));
        if (gap.to().isPresent()) {
            answer.add(Phrase.words(" the next log of stream " + gap.stream() + " landed at "));
            answer.add(Phrase.at(gap.to().get()));
        } else {
            answer.add(Phrase.words(" no log of stream " + gap.stream() + " has landed"));
        }
        answer.add(Phrase.words(": " + gap.missed() + (gap.missed() == 1 ? " was" : " were") + " due in between."));
        List<Fact> facts = new ArrayList<>();
        facts.add(new Fact(
                gap.lastLog().isPresent() ? "last log before" : "logs are asked for since",
                gap.lastLog(),
                Optional.of(gap.from()),
                ""));
        gap.nextLog().ifPresent(id -> facts.add(new Fact("next log", Optional.of(id), gap.to(), "")));
        facts.add(new Fact(
                "policy, version " + gap.version(),
                Optional.of(gap.policy()),
                Optional.empty(),
                "asks for logs by its schedule " + gap.schedule()));
        return new Explanation(
                "Logs too far apart",
                answer,
                facts,
                "Two landings in a row may be the interval plus grace apart in running time; each further interval is one missed.",
                "Cadence");
    }
}
