package firth.wording;

import firth.core.findings.Detail;
import firth.core.model.Kind;
import java.util.List;

/** Backups that are not what is demanded of them, and restores that were not proved, in words. */
final class DemandWords {

    private DemandWords() {}

    static Said notAsDemanded(Detail.NotAsDemanded d) {
        return new Said(
                "its newest " + kinds(d.kinds()) + (d.backups().size() == 1 ? " is" : " are") + " not "
                        + d.demand().word(),
                d.policy() + " demands that every backup be " + d.demand().word() + "; nothing says that "
                        + Wording.joined(d.backups()) + (d.backups().size() == 1 ? " is." : " are."),
                "Change how they are taken, or have the tool that takes them report it: the next backup of each kind ends this. Earlier ones stay as they are.");
    }

    static Said littleKnown(Detail.LittleKnown d) {
        return new Said(
                "its newest " + kinds(d.kinds()) + (d.backups().size() == 1 ? " is" : " are") + " only "
                        + EvidenceWords.of(d.known()),
                d.policy() + " demands that every backup be " + EvidenceWords.of(d.least())
                        + " or better. Nothing has shown that of " + Wording.joined(d.backups()) + ".",
                switch (d.least()) {
                    case TOLD, LISTED -> "Take stock of a store it lies in.";
                    case READ, CHECKED -> "Take stock with every file read, or have firth observe read it.";
                    case VERIFIED, RESTORED -> "Drill it: a restore that was checked proves what it read.";
                });
    }

    static Said unverified(Detail.Unverified d) {
        return new Said(
                "its newest " + kinds(d.kinds()) + (d.backups().size() == 1 ? " was" : " were") + " not verified",
                "Each data backup is to be verified within " + Wording.duration(d.within()) + " of its end; "
                        + Wording.joined(d.backups()) + (d.backups().size() == 1 ? " was not." : " were not."),
                "Verify it and report that; verifying the next one ends this as well.");
    }

    private static String kinds(List<Kind> kinds) {
        return Wording.joined(kinds.stream().map(Wording::kindName).toList());
    }

    static Said componentsNowhere(Detail.ComponentsNowhere d) {
        boolean one = d.names().size() == 1;
        String it = one ? "it" : "them";
        return new Said(
                (one ? "one of its components is" : d.names().size() + " of its components are")
                        + " in no usable backup",
                "No usable backup contains its " + (one ? "component " : "components ") + String.join(", ", d.names())
                        + ": nothing would bring " + it + " back.",
                "Include " + it + " in the next full. Earlier backups stay without " + it + ".");
    }

    static Said drillFailed(Detail.DrillFailed d) {
        return new Said(
                "its last drill failed",
                "The test restore" + d.backup().map(b -> " from " + b).orElse("") + " failed"
                        + (d.message().isEmpty() ? "" : ": " + d.message()) + ". What it read may be damaged.",
                "Mark the copies it read as spoiled if they cannot be read, and drill again from others.");
    }

    static Said drillDue(Detail.DrillDue d) {
        return new Said(
                "a drill is due",
                d.proved()
                                .map(p -> "A restore was last proved to work on " + Wording.shortMoment(p, d.zone()))
                                .orElse("No restore of it was ever proved to work")
                        + "; a proof every " + Wording.duration(d.every()) + " is promised."
                        + (d.unchecked() ? " A later drill went well, but nothing was checked after it." : ""),
                "Drill it: Firth proposes a moment and gives the plan. A drill after which nothing is checked proves nothing.");
    }
}
