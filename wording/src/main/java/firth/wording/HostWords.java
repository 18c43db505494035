package firth.wording;

import firth.core.findings.Detail;

/** Runners and sources that tell nothing any more, in words. */
final class HostWords {

    private HostWords() {}

    static Said runnerSilent(Detail.RunnerSilent d) {
        return new Said(
                "the runner on " + d.host() + " is silent",
                "It last asked for work on " + Wording.shortMoment(d.heard(), d.zone())
                        + ". Until it asks again nothing is started for these databases, and what has happened to them since is not known."
                        + d.next()
                                .map(n -> " " + n.name() + " is the first to break its promise, on "
                                        + Wording.shortMoment(n.at(), d.zone()) + ".")
                                .orElse(""),
                "Check that the runner on " + d.host() + " is running and can reach Firth.");
    }

    static Said versionNotReached(Detail.VersionNotReached d) {
        return new Said(
                "version " + d.version() + " of " + d.policy() + " has not reached " + d.host(),
                "The runner there asks for work but has not confirmed that it works by this version.",
                "Look at what the runner on " + d.host() + " reports.");
    }

    static Said anotherServer(Detail.AnotherServer d) {
        return new Said(
                "the server on " + d.host() + " is another than was enrolled",
                "It calls itself " + d.identity() + "; enrolled was " + d.enrolled()
                        + ". What is backed up there now does not go on from the backups there are: logs of the one cannot be applied to backups of the other.",
                "If that is meant, enrol it under a name of its own; if it took the old one's place, state its identity and take a full.");
    }

    static Said anotherLineage(Detail.AnotherLineage d) {
        String known = d.known().size() == 1
                ? "lineage " + d.known().get(0) + " alone"
                : "lineages " + String.join(", ", d.known());
        return new Said(
                "the server on " + d.host() + " writes to lineage " + d.lineage() + ", which nobody stated",
                "Known here is " + known
                        + ". Somebody restored it in its place, or a standby took over. Logs and backups of the new lineage restore nothing here until it is known where it left the old one.",
                "Run ./firth observe over its archive, which states the lineage by its history file, and take a full.");
    }

    static Said factsStale(Detail.FactsStale d) {
        return new Said(
                "the facts of " + d.source() + " are " + Wording.measured(d.age()) + " old",
                "What has happened since is not known here: everything shown of these databases is as of then.",
                "Check that " + d.source() + " still delivers.");
    }
}
