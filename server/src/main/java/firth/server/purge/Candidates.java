package firth.server.purge;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.purge.GivingWay;
import firth.core.purge.PromisedReach;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.purge.StillComing;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.RetainedBytes;
import firth.wording.ProofWords;
import firth.wording.explain.Reasons;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What of one database no rule needs: copies that may go, and those that stay all the same, for a lock, a hold, a minimum stay, a
 * promise under a hazard, a place that two share or another list.
 */
final class Candidates {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM", Locale.ENGLISH);

    /** What keeps a copy that no rule needs, and in words where a line is to say more. */
    private record Kept(String how, String note) {}

    private final FleetNow fleet;
    private final Evaluation e;
    private final Retention retention;
    private final StillComing coming;
    private final Map<String, Group> groups = new TreeMap<>();

    /** Why what is obsolete is so, by store. */
    private final Map<String, String> obsolete = new HashMap<>();

    /** Copies that go or stay together. */
    private static final class Group {
        final List<Integer> rows = new ArrayList<>();

        @Nullable
        Kept kept;
    }

    /**
     * @param store the one store looked at; empty: all
     * @param obstacles what else keeps copies from being purged
     */
    Candidates(Evaluations.Fleetwide all, Evaluation e, Optional<String> store, Obstacles obstacles) {
        this.fleet = all.fleet();
        this.e = e;
        this.retention = e.retention();
        this.coming = new StillComing(e);
        Map<Chosen, Integer> free = new LinkedHashMap<>();
        for (int k = 0; k < retention.size(); k++) {
            int row = k;
            if (store.filter(s -> !s.equals(retention.store(row))).isEmpty()) {
                Optional<Kept> kept = kept(k, obstacles);
                if (kept.isPresent()) {
                    kept.filter(x -> !x.how.isEmpty()).ifPresent(x -> add(row, x));
                } else {
                    free.put(copy(k), k);
                }
            }
        }
        Map<Chosen, Hazard> promised = PromisedReach.keeping(all.facts(e), fleet.fleet(), e, free.keySet());
        free.forEach((copy, k) -> add(
                k,
                Optional.ofNullable(promised.get(copy))
                        .map(h -> new Kept("promised", Obstacles.promised(h)))
                        .orElse(null)));
    }

    private Chosen copy(int k) {
        return new Chosen(e.history().id(retention.backup(k)), retention.store(k));
    }

    /** What keeps a copy; of one that a rule needs no way of it is said. */
    private Optional<Kept> kept(int k, Obstacles obstacles) {
        if (retention.verdict(k) == Verdict.NEEDED) {
            String how = retention.isAskedFor(k) ? "" : retention.has(k, Reason.LOCKED) ? "locked" : "held";
            return Optional.of(new Kept(how, ""));
        }
        if (e.mishap().restorable().isEmpty()) {
            return Optional.of(new Kept("stranded", ProofWords.NOTHING_TO_RESTORE));
        }
        Optional<String> follows = coming.keeps(retention.backup(k));
        if (follows.isPresent()) {
            return Optional.of(new Kept("coming", follows.get()));
        }
        Optional<String> shared = obstacles.shared(copy(k));
        if (shared.isPresent()) {
            return Optional.of(new Kept("shared", shared.get()));
        }
        Optional<String> listed = obstacles.listed(copy(k));
        if (listed.isPresent()) {
            return Optional.of(new Kept("listed", listed.get()));
        }
        return staysUntil(k) > e.asOf().toEpochMilli() ? Optional.of(new Kept("stay", "")) : Optional.empty();
    }

    private void add(int k, @Nullable Kept kept) {
        Group group = groups.computeIfAbsent(key(k, Optional.ofNullable(kept)), g -> new Group());
        group.rows.add(k);
        group.kept = kept;
    }

    /** The names of the lines; each may be left out. */
    Set<String> keys() {
        return Set.copyOf(groups.keySet());
    }

    /** Until when a copy is to stay, since deleting it earlier costs money. */
    private long staysUntil(int k) {
        return fleet.fleet()
                .store(retention.store(k))
                .map(s -> GivingWay.staysUntilMs(e.history(), retention.copy(k), s))
                .orElse(Long.MIN_VALUE);
    }

    private String key(int k, Optional<Kept> kept) {
        int i = retention.backup(k);
        String what = e.history().kind(i) == Kind.LOG
                ? retention.verdict(k) == Verdict.UNUSABLE ? "unusable logs" : "logs"
                : e.history().id(i);
        return String.join(
                "|",
                e.database().id(),
                retention.store(k),
                what,
                kept.map(x -> x.how + x.note).orElse(""));
    }

    boolean isEmpty() {
        return groups.isEmpty();
    }

    /** The copies that go when some lines are left out. */
    Set<Chosen> chosen(Set<String> leftOut) {
        return groups.entrySet().stream()
                .filter(g -> g.getValue().kept == null && !leftOut.contains(g.getKey()))
                .flatMap(g -> g.getValue().rows.stream())
                .map(this::copy)
                .collect(Collectors.toSet());
    }

    /** The rows of the retention that go when some lines are left out. */
    List<Integer> rows(Set<String> leftOut) {
        return groups.entrySet().stream()
                .filter(g -> g.getValue().kept == null && !leftOut.contains(g.getKey()))
                .flatMap(g -> g.getValue().rows.stream())
                .sorted()
                .toList();
    }

    List<PurgeView.LineView> lines(Set<String> leftOut) {
        return groups.entrySet().stream()
                .map(g -> line(g.getKey(), g.getValue(), leftOut))
                .toList();
    }

    private PurgeView.LineView line(String key, Group group, Set<String> leftOut) {
        History history = e.history();
        int first = group.rows.get(0);
        boolean logs = history.kind(retention.backup(first)) == Kind.LOG;
        long from = Long.MAX_VALUE;
        long to = Long.MIN_VALUE;
        long until = Long.MIN_VALUE;
        double bytes = 0;
        for (int k : group.rows) {
            int i = retention.backup(k);
            from = Math.min(from, logs ? history.fromTimeMs(i) : taken(i));
            to = Math.max(to, logs ? history.toTimeMs(i) : taken(i));
            until = Math.max(
                    until, how(group).equals("stay") ? staysUntil(k) : history.lockedUntilMs(retention.copy(k)));
            bytes += bytes(k);
        }
        return new PurgeView.LineView(
                key,
                e.database().id(),
                e.database().name(),
                retention.store(first),
                fleet.storeName(retention.store(first)),
                logs ? null : history.id(retention.backup(first)),
                history.kind(retention.backup(first)).word(),
                group.rows.size(),
                Instant.ofEpochMilli(from),
                Instant.ofEpochMilli(to),
                bytes,
                group.kept == null ? retention.verdict(first).word() : "obsolete",
                group.kept == null || group.kept.note.isEmpty() ? why(first) : group.kept.note,
                group.kept == null ? null : group.kept.how,
                how(group).equals("locked") || how(group).equals("stay") ? Instant.ofEpochMilli(until) : null,
                group.kept == null && !leftOut.contains(key));
    }

    private static String how(Group group) {
        return group.kept == null ? "" : group.kept.how;
    }

    private long taken(int i) {
        return e.history().kind(i).isData()
                ? e.history().consistentAtMs(i)
                : e.history().startedMs(i);
    }

    double bytes(int k) {
        return RetainedBytes.known(retention.bytes(k));
    }

    /** Why no rule needs a copy, with what stands in its place: of all that are obsolete in one store the same. */
    String why(int k) {
        return retention.verdict(k) == Verdict.UNUSABLE
                ? retention.reasons(k).stream().map(Reasons::note).collect(Collectors.joining("; "))
                : obsolete.computeIfAbsent(retention.store(k), s -> replaced(k));
    }

    private String replaced(int k) {
        List<String> replaced = retention.reasons(k).stream()
                .filter(r -> r.startsWith("replaced-by:"))
                .map(r -> r.substring("replaced-by:".length()))
                .toList();
        if (replaced.isEmpty()) {
            return "no rule of its store's role asks for it any more";
        }
        List<String> holders = (replaced.size() > 2 ? replaced.subList(0, 2) : replaced)
                .stream().map(this::holder).toList();
        return String.join(" and ", holders) + (holders.size() == 1 ? " contains" : " contain")
                + " what the rules need";
    }

    private String holder(String id) {
        OptionalInt row = e.history().row(id);
        return row.isEmpty()
                ? id
                : id + " of "
                        + DAY.format(Instant.ofEpochMilli(taken(row.getAsInt()))
                                .atZone(e.database().zone()));
    }
}
