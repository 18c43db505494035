package firth.wording;

import firth.core.findings.Detail;

/** Copies that are too few, in the wrong place, or kept by nothing much longer, in words. */
final class CopyWords {

    private CopyWords() {}

    static Said noPolicy() {
        return new Said(
                "it follows no policy",
                "Nothing is promised, nothing is due, and none of its backups may be purged.",
                "Assign a policy to it.");
    }

    static Said noRule(Detail.NoRule d) {
        return new Said(
                "no retain rule covers " + Wording.bytes(d.bytes()),
                d.copies() + " copies in " + String.join(", ", d.stores())
                        + " fall under no retain rule, so they are kept forever.",
                "Add a retain rule for such stores to the policy.");
    }

    static Said copiesLacking(Detail.CopiesLacking d) {
        return new Said(
                d.backups() == 1 ? "a backup lacks copies" : d.backups() + " backups lack copies",
                "A day after they ended they still have fewer copies than the policy asks for; the oldest is from "
                        + Wording.shortMoment(d.oldest(), d.zone()) + ".",
                "Copy them on. Until then they stay needed and are not purged.");
    }

    static Said offRoute(Detail.OffRoute d) {
        return new Said(
                "its newest " + Wording.kindName(d.kind()) + " lies "
                        + (d.alternate() ? "in an alternate store" : "off its route"),
                "It lies in " + String.join(", ", d.stores()) + ".",
                "Copy it on to where its route leads, or change the route.");
    }

    static Said overwritten(Detail.Overwritten d) {
        return new Said(
                Wording.kindName(d.kind()) + " " + d.last() + " overwrote another backup",
                String.join(", ", d.lost()) + " and " + d.last() + " claim the same path " + d.path() + " in "
                        + d.store()
                        + d.run().map(r -> "; run " + r + " wrote it last").orElse("")
                        + ". Only the last can be there: what seems restorable from the others is not. None of them is purged.",
                "Give every backup a path of its own, and report the copies that are no longer there as gone.");
    }

    static Said lastLockEnds(Detail.LastLockEnds d) {
        return new Said(
                "the last lock over a data backup ends",
                d.backup() + " is the last data backup that is locked. Once its lock ends on "
                        + Wording.shortMoment(d.ends(), d.zone())
                        + " nothing would be left after sabotage; the promise is"
                        + " to lose at most "
                        + d.objective().map(Wording::duration).orElse("") + ".",
                "Have another data backup land in a store that locks before then, or extend the lock.");
    }

    static Said holdEnds(Detail.HoldEnds d) {
        boolean one = d.backups().size() == 1;
        String what = one ? d.backups().get(0) : d.backups().size() + " backups";
        return new Said(
                "a hold ends, and nothing else keeps " + what,
                "The hold “" + d.reason() + "” ends on " + Wording.shortMoment(d.ends(), d.zone())
                        + ". From then on " + what + " may be purged, and "
                        + d.moment()
                                .map(m -> "the moment " + Wording.shortMoment(m, d.zone()))
                                .orElse("what it restores")
                        + " is gone with " + (one ? "it" : "them") + ".",
                "Extend the hold, or let it end.");
    }
}
