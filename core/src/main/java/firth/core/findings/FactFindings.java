package firth.core.findings;

import firth.core.findings.Finding.Severity;
import firth.core.model.Database;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** What runners and agents found amiss, and sources that no longer tell of anything. */
public final class FactFindings {

    private FactFindings() {}

    /**
     * What is not ready of a database that was trusted with a policy.
     *
     * @param told what is known to be wrong with it already: what a store said there is not said again
     */
    public static List<Finding> ofReadiness(Database database, List<Check> checks, List<Finding> told) {
        List<Finding> out = new ArrayList<>();
        for (Check check : checks) {
            if (check.state() == Check.State.NOT_READY && told.stream().noneMatch(f -> says(f, check))) {
                boolean disk = check.item() == Check.Item.LOG_DISK;
                boolean stopped = disk && told.stream().anyMatch(f -> LOGS_STOPPED.contains(f.code()));
                Optional<Instant> full = stopped ? check.lasts() : Optional.empty();
                Finding found = Finding.of(
                        "not-ready-" + check.item().word(),
                        check.item() == Check.Item.NAMES ? Severity.UNUSUAL : Severity.RULE_BROKEN,
                        database.id(),
                        database.id(),
                        Optional.empty(),
                        title(check.item()),
                        full.map(f -> "Its logs are no longer taken away and pile up: the log disk is full on "
                                                + Wording.shortMoment(f, database.zone())
                                                + ", and then the database stands still.")
                                        .orElse(check.text())
                                + check.source().map(s -> " (" + s + ")").orElse(""),
                        disk
                                ? "Make room there, or see that its logs are taken away again."
                                : "Put it right on the host; the next look shows whether it is.",
                        List.of());
                out.add(full.map(found::breaking).orElse(found));
            }
        }
        return out;
    }

    /** What is found where logs do not come any more. */
    private static final Set<String> LOGS_STOPPED = Set.of("behind", "unserved", "stranded");

    /** A database, and when its age passes what is promised if nothing more lands. */
    public record Breaks(String name, Instant at) {}

    /**
     * A runner that no longer asks what is due.
     *
     * @param from since when it counts as silent
     * @param databases the ids of those on its host that have slots
     * @param next which of them breaks a promise first if nothing is told of it, and when
     * @param zone in which moments are told
     */
    public static Finding silent(
            String host, Instant heard, Instant from, List<String> databases, Optional<Breaks> next, ZoneId zone) {
        Finding found = new Finding(
                "runner-silent",
                Severity.SLOT_NOT_KEPT,
                "runner:" + host,
                databases,
                Optional.of(from),
                "the runner on " + host + " is silent",
                "It last asked what is due on " + Wording.shortMoment(heard, zone)
                        + ". Until it does again nothing of these databases is started, and nobody knows what became of them since."
                        + next.map(n -> " " + n.name() + " is the first to break its promise, on "
                                        + Wording.shortMoment(n.at(), zone) + ".")
                                .orElse(""),
                "See that the runner on " + host + " is running and reaches Firth.",
                List.of(),
                List.of());
        return next.map(n -> found.breaking(n.at())).orElse(found);
    }

    /**
     * A runner that has not taken note of the version in force.
     *
     * @param version the one in force, since when
     */
    public static Finding notReached(String host, String policy, int version, Instant since, List<String> databases) {
        return new Finding(
                "policy-not-reached",
                Severity.SLOT_NOT_KEPT,
                "runner:" + host + "/" + policy,
                databases,
                Optional.of(since),
                "version " + version + " of " + policy + " has not reached " + host,
                "The runner there asks what is due, but has not said that it works by this version.",
                "See what the runner on " + host + " says.",
                List.of(),
                List.of());
    }

    private static boolean says(Finding finding, Check check) {
        String words = check.text().endsWith(".")
                ? check.text().substring(0, check.text().length() - 1)
                : check.text();
        return check.item() == Check.Item.DESTINATION && finding.text().contains(words);
    }

    private static String title(Check.Item item) {
        return switch (item) {
            case LOGS -> "its logs are not archived";
            case RIGHTS -> "the rights of its backup account do not fit";
            case PROCESSES -> "a process that backups need is down";
            case SCHEDULER -> "the scheduler that starts its backups is off";
            case VERSIONS -> "client and server versions do not fit";
            case DESTINATION -> "a store on its route does not take its backups";
            case APART -> "its backups are not kept apart from it";
            case LOG_DISK -> "its log disk is filling";
            case BACKUP -> "no backup by hand has succeeded";
            case NAMES -> "it is called by two names";
        };
    }

    /**
     * A source that has told nothing new for so long that what is said of its databases is out of date.
     *
     * @param newest the newest moment it told of
     * @param databases the ids of those it tells of; one of an unknown reach befalls all
     */
    public static Optional<Finding> ofSource(String source, Instant newest, Instant now, List<String> databases) {
        Duration age = Duration.between(newest, now);
        if (age.compareTo(Readiness.FRESH) <= 0 || databases.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(new Finding(
                "facts-stale",
                Severity.RULE_BROKEN,
                "source:" + source,
                databases,
                Optional.of(newest.plus(Readiness.FRESH)),
                "the facts of " + source + " are " + Wording.measured(age) + " old",
                "Whatever happened since is not known here: what is said of these databases is what was true then.",
                "See that " + source + " still delivers.",
                List.of(),
                List.of()));
    }
}
