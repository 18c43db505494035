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
                d.policy() + " demands that every backup is " + d.demand().word() + "; nobody said so of "
                        + Wording.joined(d.backups()) + ".",
                "Correct how they are taken, or let what takes them say so: the next of each kind ends it. What was taken"
                        + " before stays as it is.");
    }

    static Said unverified(Detail.Unverified d) {
        return new Said(
                "its newest " + kinds(d.kinds()) + (d.backups().size() == 1 ? " was" : " were") + " not verified",
                "Within " + Wording.duration(d.within()) + " of its end each data backup is to be verified; "
                        + Wording.joined(d.backups()) + " was not.",
                "Verify it, and let that be told: it ends with the next that is verified, too.");
    }

    private static String kinds(List<Kind> kinds) {
        return Wording.joined(kinds.stream().map(Wording::kindName).toList());
    }

    static Said configBehind(Detail.ConfigBehind d) {
        return new Said(
                d.config().isEmpty()
                        ? "its configuration is nowhere"
                        : "its configuration is older than its newest data backup",
                d.config()
                                .map(c -> "The newest config backup is of " + Wording.shortMoment(c, d.zone()))
                                .orElse("No config backup is known")
                        + ", but one was to follow the data backup of " + Wording.shortMoment(d.data(), d.zone())
                        + " within " + Wording.duration(d.within())
                        + ": a restore would not find the configuration that goes with it.",
                "Take a config backup now.");
    }

    static Said componentsNowhere(Detail.ComponentsNowhere d) {
        boolean one = d.names().size() == 1;
        String it = one ? "it" : "them";
        return new Said(
                (one ? "a component of it is" : d.names().size() + " components of it are") + " in no usable backup",
                String.join(", ", d.names()) + (one ? " is a component" : " are components")
                        + " of it, and no backup that restores anything holds " + it + ": nothing would bring " + it
                        + " back.",
                "Let the next full take " + it + " in. What was taken before stays without.");
    }

    static Said drillFailed(Detail.DrillFailed d) {
        return new Said(
                "its last drill failed",
                "The restore begun to prove that it works did not"
                        + d.backup().map(b -> ", from " + b).orElse("")
                        + (d.message().isEmpty() ? "" : ": " + d.message())
                        + ". What it read may not be what it is taken for.",
                "Mark the copies it read as spoiled if they do not read, and drill again from others.");
    }

    static Said drillDue(Detail.DrillDue d) {
        return new Said(
                "a drill is due",
                d.proved()
                                .map(p -> "It was last proved that it can be restored on "
                                        + Wording.shortMoment(p, d.zone()))
                                .orElse("It was never proved that it can be restored")
                        + "; every " + Wording.duration(d.every()) + " are promised."
                        + (d.unchecked() ? " A later one went well, but nothing was checked after it." : ""),
                "Drill it: Firth proposes a moment and gives the plan. A drill after which nothing is checked proves nothing.");
    }
}
