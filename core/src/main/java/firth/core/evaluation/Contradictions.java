package firth.core.evaluation;

import firth.core.cover.Availability;
import firth.core.cover.Lineages;
import firth.core.cover.Lines;
import firth.core.cover.PositionLine;
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
import java.util.Set;
import java.util.stream.IntStream;

/**
 * Finds records of a database that cannot all be true (docs/semantics.md, "Records that contradict one another"). They harm
 * nothing else: the database is evaluated with them by the rules as they stand.
 */
final class Contradictions {

    /** How many of a kind are named one by one in a database. */
    private static final int NAMED = 20;

    /** Servers' clocks differ, and moments of openings are told to the second: by so much a lineage may seem to go on. */
    private static final long CLOCKS_DIFFER_MS = 10_000;

    private final Database database;
    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final Availability availability;
    private final List<Contradiction> found = new ArrayList<>();

    private Contradictions(Database database, History history, Lines lines, Availability availability) {
        this.database = database;
        this.history = history;
        this.lines = lines;
        this.lineages = lines.lineages();
        this.availability = availability;
    }

    static List<Contradiction> of(Database database, History history, Lines lines, Availability availability) {
        Contradictions contradictions = new Contradictions(database, history, lines, availability);
        contradictions.forks();
        contradictions.lineagesThatGoOn();
        contradictions.cycles();
        contradictions.logsOfTheSamePositions();
        contradictions.copiesGoneBeforeTheyLanded();
        return List.copyOf(contradictions.found);
    }

    /** Versions of the database's policies that begin at one moment. */
    static List<Contradiction> ofVersions(Database database, Fleet fleet) {
        Set<String> policies = new LinkedHashSet<>();
        database.policy().ifPresent(policies::add);
        database.assigned().forEach(a -> a.policy().ifPresent(policies::add));
        List<Contradiction> out = new ArrayList<>();
        for (String policy : policies) {
            Map<Instant, PolicyVersion> begun = new HashMap<>();
            for (PolicyVersion version : fleet.versions(policy)) {
                PolicyVersion other = begun.put(version.effectiveFrom(), version);
                if (other != null) {
                    out.add(new Contradiction.VersionsBeginTogether(
                            policy, other.version(), version.version(), version.effectiveFrom()));
                }
            }
        }
        return out;
    }

    private void add(Contradiction contradiction) {
        if (found.stream().filter(f -> f.getClass() == contradiction.getClass()).count() < NAMED) {
            found.add(contradiction);
        }
    }

    private void forks() {
        for (int l = 1; l < lineages.count(); l++) {
            if (!lineages.isKnown(l)) {
                continue;
            }
            Instant opened = Instant.ofEpochMilli(lineages.openedAtMs(l));
            if (lineages.openedAtMs(l) < lineages.openedAtMs(0)) {
                add(new Contradiction.LineageBeforeService(lineages.id(l), opened));
            }
            for (int s = 0; s < lines.streams() && lineages.isChild(l); s++) {
                int parent = lineages.parent(l);
                long end = furthest(parent, s);
                if (end >= 0 && lineages.fork(l, s) > end) {
                    add(new Contradiction.ForkBeyondParent(
                            lineages.id(l),
                            lineages.id(parent),
                            database.streams().get(s),
                            lineages.fork(l, s),
                            end,
                            opened));
                }
            }
        }
    }

    /** Positions grow with time, so the last log of each that holds anything decides. */
    private void lineagesThatGoOn() {
        for (int l = 0; l < lineages.count(); l++) {
            long until = lineages.untilMs(l);
            for (int s = 0; s < lines.streams() && lineages.isKnown(l) && until < Long.MAX_VALUE; s++) {
                int last =
                        lines.line(l, s).lastOwn(i -> availability.exists(i) && history.logFrom(i) < history.logTo(i));
                if (last >= 0 && history.fromTimeMs(last) - until >= CLOCKS_DIFFER_MS) {
                    add(new Contradiction.LineageGoesOn(
                            lineages.id(l), inForce(until), history.id(last), Instant.ofEpochMilli(until)));
                    break;
                }
            }
        }
    }

    private String inForce(long moment) {
        return IntStream.range(0, lineages.count())
                .filter(l -> lineages.inForceAt(l, moment))
                .mapToObj(lineages::id)
                .findFirst()
                .orElseThrow();
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
                add(new Contradiction.ParentsInACircle(ids, Instant.ofEpochMilli(history.startedMs(head))));
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
                        add(new Contradiction.LogsOfTheSamePositions(
                                history.id(one),
                                history.id(other),
                                history.logFrom(one),
                                history.logTo(one),
                                Instant.ofEpochMilli(Math.max(history.startedMs(one), history.startedMs(other)))));
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
                    add(new Contradiction.GoneBeforeLanded(
                            history.id(i), history.store(c), Instant.ofEpochMilli(history.goneMs(c))));
                }
            }
        });
    }
}
