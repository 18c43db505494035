package firth.core.findings;

import firth.core.findings.Finding.Severity;
import firth.core.model.Database;
import firth.core.model.Lineage;
import firth.core.model.Sighting;
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

    /** What of its readiness is odd where it is not ready, and breaks no rule. */
    private static final Set<Check.Item> UNUSUAL = Set.of(Check.Item.NAMES, Check.Item.COMPONENTS);

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
                        UNUSUAL.contains(check.item()) ? Severity.UNUSUAL : Severity.RULE_BROKEN,
                        database.id(),
                        database.id(),
                        Optional.empty(),
                        new Detail.NotReady(check, full, database.zone()),
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
                new Detail.RunnerSilent(host, heard, next, zone),
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
                new Detail.VersionNotReached(host, policy, version),
                List.of(),
                List.of());
    }

    /** Whether a finding tells already that a store does not take backups: what a check of the route would say again. */
    private static boolean says(Finding finding, Check check) {
        return check.detail() instanceof CheckDetail.StoreTried tried
                && finding.detail()
                        .failing()
                        .flatMap(Failing::message)
                        .filter(m -> m.contains(tried.store())
                                && tried.message().filter(m::contains).isPresent())
                        .isPresent();
    }

    /**
     * That under a database's name its own host has another server than was enrolled: what is backed up there from now on does not go on
     * from the backups there are. One of that name on another host is a clone, of which no backups come.
     */
    public static Optional<Finding> anotherServer(Database database, Sighting seen) {
        Optional<String> enrolled = database.particulars().identity();
        boolean there = isAtHome(database, seen);
        boolean another = enrolled.isPresent()
                && seen.identity().isPresent()
                && !seen.identity().equals(enrolled);
        if (!there || !another) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                "another-server",
                Severity.CONTRADICTION,
                database.id(),
                database.id(),
                Optional.empty(),
                new Detail.AnotherServer(seen.host().get(), seen.identity().get(), enrolled.get()),
                List.of(seen.id())));
    }

    private static boolean isAtHome(Database database, Sighting seen) {
        return seen.host().isPresent()
                && seen.host().equals(database.particulars().host());
    }

    /**
     * That the server that was enrolled writes to a lineage nobody stated: it was restored in its place, or a standby was promoted. Of
     * one that calls itself otherwise that is said already.
     */
    public static Optional<Finding> anotherLineage(Database database, Sighting seen) {
        boolean other = seen.identity().isPresent()
                && database.particulars().identity().isPresent()
                && !seen.identity().equals(database.particulars().identity());
        boolean known = seen.lineage()
                .filter(l -> database.lineages().stream().noneMatch(k -> k.id().equals(l)))
                .isEmpty();
        if (!isAtHome(database, seen) || other || known) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                "another-lineage",
                Severity.CONTRADICTION,
                database.id(),
                database.id(),
                Optional.empty(),
                new Detail.AnotherLineage(
                        seen.host().get(),
                        seen.lineage().get(),
                        database.lineages().stream().map(Lineage::id).toList()),
                List.of(seen.id())));
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
                new Detail.FactsStale(source, age),
                List.of(),
                List.of()));
    }
}
