package firth.wording;

import firth.core.findings.Detail;

/** Copies that are too few, in the wrong place, or kept by nothing much longer, in words. */
final class CopyWords {

    private CopyWords() {}

    static Said noPolicy() {
        return new Said(
                "no policy asks anything of it",
                "Nothing is promised, nothing is due, and nothing of it may be purged.",
                "Assign a policy to it.");
    }

    static Said noRule(Detail.NoRule d) {
        return new Said(
                "no rule speaks of " + Wording.bytes(d.bytes()),
                d.copies() + " copies in " + String.join(", ", d.stores())
                        + " fall under no retain rule, so they are kept for ever.",
                "Say in the policy what is retained there.");
    }

    static Said copiesLacking(Detail.CopiesLacking d) {
        return new Said(
                d.backups() == 1 ? "a backup lacks copies" : d.backups() + " backups lack copies",
                "The policy asks for more copies than they have had a day after they ended; the oldest is of "
                        + Wording.shortMoment(d.oldest(), d.zone()) + ".",
                "Copy them on. Until then they are needed and not purged.");
    }

    static Said offRoute(Detail.OffRoute d) {
        return new Said(
                "its newest " + Wording.kindName(d.kind()) + " lies "
                        + (d.alternate() ? "on an alternate" : "off its route"),
                "It lies in " + String.join(", ", d.stores()) + ".",
                "Copy it on to where its route leads, or change the route.");
    }

    static Said overwritten(Detail.Overwritten d) {
        return new Said(
                Wording.kindName(d.kind()) + " " + d.last() + " was written over what lay there",
                String.join(", ", d.lost()) + " and it claim the same place " + d.path() + " in " + d.store()
                        + d.run().map(r -> "; run " + r + " wrote it last").orElse("")
                        + ". Only the last one can be there; what is said to be restorable from the others is not. None of"
                        + " them is purged.",
                "Give every backup a place of its own, and say of the copies that are no longer there that they are gone.");
    }

    static Said lastLockEnds(Detail.LastLockEnds d) {
        return new Said(
                "the last lock over a data backup ends",
                d.backup() + " is the last data backup that is locked. Once its lock ends on "
                        + Wording.shortMoment(d.ends(), d.zone())
                        + " nothing would be left after sabotage; a loss of "
                        + d.objective().map(Wording::duration).orElse("") + " is promised.",
                "Let a data backup land in a store that locks before then, or lengthen the lock.");
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
                "Lengthen the hold, or let it end.");
    }
}
