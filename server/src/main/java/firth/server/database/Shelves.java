package firth.server.database;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import firth.server.cover.CoverRows;
import firth.server.evaluation.FleetNow;
import firth.wording.explain.Reasons;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What lies in each store of a database, which rule needs it, and what no rule needs. */
public final class Shelves {

    private final FleetNow fleet;
    private final Evaluation e;
    private final History history;
    private final Retention retention;

    public Shelves(FleetNow fleet, Evaluation e) {
        this.fleet = fleet;
        this.e = e;
        this.history = e.history();
        this.retention = e.retention();
    }

    /** One per store that holds a copy: near ones first, then far, then deep. */
    public List<DatabaseView.Shelf> all() {
        return of(Optional.empty());
    }

    /** That of one store alone, where one is named. */
    public List<DatabaseView.Shelf> of(Optional<String> one) {
        Map<String, List<Integer>> byStore = new TreeMap<>();
        for (int r = 0; r < retention.size(); r++) {
            if (one.isEmpty() || one.get().equals(retention.store(r))) {
                byStore.computeIfAbsent(retention.store(r), s -> new ArrayList<>())
                        .add(r);
            }
        }
        return byStore.entrySet().stream()
                .map(s -> shelf(s.getKey(), s.getValue()))
                .sorted(Comparator.comparing((DatabaseView.Shelf s) -> rank(s.role())))
                .toList();
    }

    private static int rank(String role) {
        for (Role known : Role.values()) {
            if (known.word().equals(role)) {
                return known.ordinal();
            }
        }
        return Role.values().length;
    }

    private DatabaseView.Shelf shelf(String store, List<Integer> copies) {
        Optional<Role> role = fleet.fleet().store(store).flatMap(BackupStore::role);
        double obsolete = copies.stream()
                .filter(r -> retention.verdict(r) != Verdict.NEEDED)
                .mapToDouble(r -> Double.isNaN(retention.bytes(r)) ? 0 : retention.bytes(r))
                .sum();
        return new DatabaseView.Shelf(
                store,
                fleet.storeName(store),
                role.map(Role::word).orElse(""),
                role.flatMap(this::reach).map(CoverRows::seconds).orElse(null),
                copies.stream()
                        .filter(r -> history.kind(retention.backup(r)) != Kind.LOG)
                        .map(this::lying)
                        .sorted(Comparator.comparing(DatabaseView.Lying::at))
                        .toList(),
                logs(copies),
                obsolete);
    }

    /** The furthest any entry of the policy reaches in stores of a role. */
    private Optional<Duration> reach(Role role) {
        return e.version().filter(PolicyVersion::enabled).stream()
                .flatMap(v -> v.retain().stream())
                .filter(rule -> rule.role() == role)
                .map(RetainRule::reach)
                .flatMap(Optional::stream)
                .max(Comparator.naturalOrder());
    }

    private DatabaseView.Lying lying(int r) {
        int i = retention.backup(r);
        List<String> reasons = retention.reasons(r);
        long lockedUntil = history.lockedUntilMs(retention.copy(r));
        long at = history.kind(i).isData() ? history.consistentAtMs(i) : history.startedMs(i);
        return new DatabaseView.Lying(
                history.id(i),
                history.kind(i).word(),
                Instant.ofEpochMilli(at),
                retention.verdict(r).word(),
                reasons.contains("locked") ? Instant.ofEpochMilli(lockedUntil) : null,
                reasons.contains("held"),
                reasons.stream()
                        .filter(x -> x.startsWith("rung-"))
                        .map(x -> x.substring("rung-".length()))
                        .toList(),
                reasons.stream().map(Reasons::label).distinct().toList());
    }

    private List<DatabaseView.LogStretch> logs(List<Integer> copies) {
        List<Integer> order = copies.stream()
                .filter(r -> history.kind(retention.backup(r)) == Kind.LOG)
                .sorted(Comparator.comparingLong(r -> history.fromTimeMs(retention.backup(r))))
                .toList();
        List<DatabaseView.LogStretch> out = new ArrayList<>();
        DatabaseView.LogStretch open = null;
        for (int r : order) {
            int i = retention.backup(r);
            Instant from = Instant.ofEpochMilli(history.fromTimeMs(i));
            Instant to = Instant.ofEpochMilli(history.toTimeMs(i));
            String verdict = retention.verdict(r).word();
            if (open != null && open.verdict().equals(verdict) && !from.isAfter(open.to())) {
                Instant end = to.isAfter(open.to()) ? to : open.to();
                open = new DatabaseView.LogStretch(open.from(), end, verdict, open.logs() + 1);
            } else {
                if (open != null) {
                    out.add(open);
                }
                open = new DatabaseView.LogStretch(from, to, verdict, 1);
            }
        }
        if (open != null) {
            out.add(open);
        }
        return out;
    }
}
