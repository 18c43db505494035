package firth.wording;

import firth.core.findings.Detail;

/** Runners and sources that tell nothing any more, in words. */
final class HostWords {

    private HostWords() {}

    static Said runnerSilent(Detail.RunnerSilent d) {
        return new Said(
                "the runner on " + d.host() + " is silent",
                "It last asked what is due on " + Wording.shortMoment(d.heard(), d.zone())
                        + ". Until it does again nothing of these databases is started, and nobody knows what became of them since."
                        + d.next()
                                .map(n -> " " + n.name() + " is the first to break its promise, on "
                                        + Wording.shortMoment(n.at(), d.zone()) + ".")
                                .orElse(""),
                "See that the runner on " + d.host() + " is running and reaches Firth.");
    }

    static Said versionNotReached(Detail.VersionNotReached d) {
        return new Said(
                "version " + d.version() + " of " + d.policy() + " has not reached " + d.host(),
                "The runner there asks what is due, but has not said that it works by this version.",
                "See what the runner on " + d.host() + " says.");
    }

    static Said factsStale(Detail.FactsStale d) {
        return new Said(
                "the facts of " + d.source() + " are " + Wording.measured(d.age()) + " old",
                "Whatever happened since is not known here: what is said of these databases is what was true then.",
                "See that " + d.source() + " still delivers.");
    }
}
