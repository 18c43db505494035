package firth.core.findings;

import firth.core.cover.Availability;
import firth.core.cover.Lineages;
import firth.core.cover.Lines;
import firth.core.cover.PositionLine;
import firth.core.findings.Finding.Severity;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds records of a database that cannot all be true (docs/semantics.md, "Records that contradict one another"). They harm
 * nothing else: the database is evaluated with them by the rules as they stand.
 */
public final class Contradictions {

    public static final String VERSION_BEGINS_TWICE = "version-begins-twice";

    /** How many of a kind are named one by one in a database. */
    private static final int NAMED = 20;

    private final Database database;
    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final Availability availability;
    private final List<Finding> found = new ArrayList<>();

    private Contradictions(Database database, History history, Lines lines, Availability availability) {
        this.database = database;
        this.history = history;
        this.lines = lines;
        this.lineages = lines.lineages();
        this.availability = availability;
    }

    public static List<Finding> of(Database database, History history, Lines lines, Availability availability) {
        Contradictions contradictions = new Contradictions(database, history, lines, availability);
        contradictions.forks();
        contradictions.cycles();
        contradictions.logsOfTheSamePositions();
        contradictions.copiesGoneBeforeTheyLanded();
        return List.copyOf(contradictions.found);
    }

    /** Versions of the database's policies that begin at one moment. */
    public static List<Finding> ofVersions(Database database, Fleet fleet) {
        Set<String> policies = new LinkedHashSet<>();
        database.policy().ifPresent(policies::add);
        database.assigned().forEach(a -> a.policy().ifPresent(policies::add));
        List<Finding> out = new ArrayList<>();
        for (String policy : policies) {
            Map<Instant, PolicyVersion> begun = new HashMap<>();
            for (PolicyVersion version : fleet.versions(policy)) {
                PolicyVersion other = begun.put(version.effectiveFrom(), version);
                if (other != null) {
                    out.add(Finding.of(
                            VERSION_BEGINS_TWICE,
                            Severity.CONTRADICTION,
                            database.id(),
                            "policy:" + policy,
                            Optional.of(version.effectiveFrom()),
                            "two versions begin at one moment",
                            "Versions " + other.version() + " and " + version.version() + " of policy " + policy
                                    + " begin at the same moment: " + version.version() + " counts.",
                            "Take one of them back, or let it begin later.",
                            List.of(policy)));
                }
            }
        }
        return out;
    }

    private void add(String code, Optional<Instant> since, String text, String action, List<String> facts) {
        if (found.stream().filter(f -> f.code().equals(code)).count() < NAMED) {
            found.add(Finding.of(
                    code,
                    Severity.CONTRADICTION,
                    database.id(),
                    database.id() + "/" + String.join("/", facts),
                    since,
                    "records contradict one another",
                    text,
                    action,
                    facts));
        }
    }

    private void forks() {
        for (int l = 1; l < lineages.count(); l++) {
            if (!lineages.isKnown(l)) {
                continue;
            }
            Optional<Instant> opened = Optional.of(Instant.ofEpochMilli(lineages.openedAtMs(l)));
            if (lineages.openedAtMs(l) < lineages.openedAtMs(0)) {
                add(
                        "lineage-before-service",
                        opened,
                        "Lineage " + lineages.id(l) + " opened before the database went into service.",
                        "Correct inServiceFrom or openedAt.",
                        List.of(database.id()));
            }
            for (int s = 0; s < lines.streams() && lineages.isChild(l); s++) {
                int parent = lineages.parent(l);
                long end = furthest(parent, s);
                if (end >= 0 && lineages.fork(l, s) > end) {
                    add(
                            "fork-beyond-parent",
                            opened,
                            "Lineage " + lineages.id(l) + " leaves lineage " + lineages.id(parent) + " at "
                                    + lineages.fork(l, s) + " in stream "
                                    + database.streams().get(s)
                                    + ", but nothing known of that goes beyond " + end
                                    + ": no backup can carry over into it.",
                            "Correct forkPos, or import the logs that are missing.",
                            List.of(database.id()));
                }
            }
        }
    }

    /** The furthest position known of a lineage, -1 where none is. */
    private long furthest(int lineage, int stream) {
        long furthest = lines.line(lineage, stream).furthest(l -> true);
        for (int i : lines.dataByAge(lineage)) {
            furthest = Math.max(furthest, history.to(i, stream));
        }
        return Math.max(furthest, lineages.isChild(lineage) ? lineages.fork(lineage, stream) : -1);
    }

    private void cycles() {
        Set<Integer> done = new LinkedHashSet<>();
        for (int i : history.others()) {
            if (!availability.needsParent(i) || done.contains(i)) {
                continue;
            }
            Set<Integer> chain = new LinkedHashSet<>();
            int at = i;
            while (at >= 0 && availability.needsParent(at) && !done.contains(at) && chain.add(at)) {
                at = history.parent(at);
            }
            if (at >= 0 && chain.contains(at)) {
                int head = at;
                List<String> ids = chain.stream()
                        .dropWhile(c -> c != head)
                        .map(history::id)
                        .toList();
                add(
                        "parents-in-a-circle",
                        Optional.of(Instant.ofEpochMilli(history.startedMs(head))),
                        "The backups " + String.join(", ", ids) + " name each other as parents: none of them restores"
                                + " anything.",
                        "Correct their parents.",
                        ids);
            }
            done.addAll(chain);
        }
    }

    private void logsOfTheSamePositions() {
        for (int l = 0; l < lineages.count(); l++) {
            for (int s = 0; s < lines.streams(); s++) {
                PositionLine line = lines.line(l, s);
                line.neighbours((one, other) -> {
                    boolean same = history.logFrom(one) == history.logFrom(other)
                            && history.logTo(one) == history.logTo(other)
                            && history.logFrom(one) < history.logTo(one);
                    boolean apart = history.toTimeMs(one) < history.fromTimeMs(other)
                            || history.toTimeMs(other) < history.fromTimeMs(one);
                    if (same && apart) {
                        add(
                                "logs-of-the-same-positions",
                                Optional.of(Instant.ofEpochMilli(
                                        Math.max(history.startedMs(one), history.startedMs(other)))),
                                "The logs " + history.id(one) + " and " + history.id(other)
                                        + " hold the same positions "
                                        + history.logFrom(one) + " to " + history.logTo(one)
                                        + " of one lineage, but of different times: they are of different histories.",
                                "Find out which of them belongs to the lineage; the other may be of one not entered yet.",
                                List.of(history.id(one), history.id(other)));
                    }
                });
            }
        }
    }

    /** Only loose rows are looked at: the copies of logs that behave are there for a while each. */
    private void copiesGoneBeforeTheyLanded() {
        history.stretches().eachLoose(i -> {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1) && availability.exists(i); c++) {
                if (availability.gone(c) && history.goneMs(c) < history.arrivesMs(i, c)) {
                    add(
                            "gone-before-landed",
                            Optional.of(Instant.ofEpochMilli(history.goneMs(c))),
                            "The copy of " + history.id(i) + " in " + history.store(c)
                                    + " is gone since before it landed: it never counts.",
                            "Correct landed or gone.",
                            List.of(history.id(i)));
                }
            }
        });
    }
}
