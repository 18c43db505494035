package firth.wording;

import firth.core.findings.Detail;
import firth.core.model.Kind;

/** Backups that were not taken as their policy says they are, in words. */
final class TakingWords {

    private TakingWords() {}

    static Said notFollowed(Detail.NotFollowed d) {
        boolean config = d.take() == Kind.CONFIG;
        String kind = Wording.kindName(d.take());
        String after = Wording.kindName(d.after());
        String title = config
                ? d.newest().isEmpty()
                        ? "its configuration is not backed up"
                        : "its configuration is older than its newest " + after
                : "no " + kind + " followed its newest " + after;
        return new Said(
                title,
                d.newest()
                                .map(n ->
                                        "The newest " + kind + (d.take() == Kind.LOG ? " reaches up to " : " is from ")
                                                + Wording.shortMoment(n, d.zone()))
                                .orElse("No " + kind + " is known")
                        + ", but one should have followed the " + after + " of "
                        + Wording.shortMoment(d.ended(), d.zone()) + " within " + Wording.duration(d.within())
                        + (config ? ": a restore would lack the configuration that goes with it." : "."),
                "Take " + Wording.aKind(d.take()) + " now.");
    }

    static Said outOfOrder(Detail.OutOfOrder d) {
        return new Said(
                "its " + Wording.kindName(d.kind()) + " did not wait for its " + Wording.kindName(d.before()),
                "The " + Wording.kindName(d.kind()) + " of " + Wording.shortMoment(d.started(), d.zone())
                        + " began before the " + Wording.kindName(d.before()) + " due from "
                        + Wording.shortMoment(d.open(), d.zone()) + " was there, which goes first by its policy.",
                "Let Firth's runner start both, or set what starts them to wait; the next " + Wording.kindName(d.kind())
                        + " that waits ends this.");
    }

    static Said tooFast(Detail.TooFast d) {
        return new Said(
                "its newest " + Wording.kindName(d.kind()) + " ran faster than it may",
                "From " + Wording.shortMoment(d.from(), d.zone()) + " to " + Wording.shortMoment(d.to(), d.zone())
                        + " it wrote " + Wording.bytes(d.rate()) + " a second"
                        + d.store().map(s -> " to " + s).orElse("") + ", and at most " + Wording.bytes(d.most())
                        + " a second are allowed.",
                "Hold back what takes it, or raise the limit in its policy; the next one that keeps it ends this.");
    }

    static Said sourceLogsGone(Detail.SourceLogsGone d) {
        String copies = d.copies() == 1 ? "one store" : d.copies() + " stores";
        return new Said(
                d.untaken()
                        ? "logs were deleted at their source before they were taken"
                        : "logs were deleted at their source before they had enough copies",
                "On " + Wording.shortMoment(d.found(), d.zone()) + " the source had deleted logs "
                        + (d.untaken()
                                ? "of which no backup is known: a gap that only the next data backup ends."
                                : "that are in fewer than " + copies + ", from those of "
                                        + d.since()
                                                .map(s -> Wording.shortMoment(s, d.zone()))
                                                .orElse("then")
                                        + " on."),
                d.untaken()
                        ? "Take a data backup now, and let the source keep its logs for longer."
                        : "Copy them to another store now, and let the source keep its logs until they have "
                                + (d.copies() == 1 ? "a copy." : d.copies() + " copies."));
    }
}
