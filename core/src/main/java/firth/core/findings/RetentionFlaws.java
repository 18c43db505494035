package firth.core.findings;

import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** What a policy's retention does not fit: its promises, its schedules, or the stores of those who follow it. */
final class RetentionFlaws {

    private static final long DAY = Duration.ofDays(1).toMillis();

    private final PolicyVersion version;
    private final Followers followers;
    private final Optional<Duration> spacing;
    private final Found found;

    /** Takes a flaw. */
    interface Found {
        void add(String code, String path, FlawDetail detail);
    }

    /** @param spacing how far apart its fulls lie at the most */
    RetentionFlaws(PolicyVersion version, Followers followers, Optional<Duration> spacing, Found found) {
        this.version = version;
        this.followers = followers;
        this.spacing = spacing;
        this.found = found;
    }

    void find() {
        if (version.live().isEmpty()) {
            return;
        }
        if (version.retain().stream().noneMatch(RetainRule::retainsData)) {
            found.add("nothing-retained", "retain", new FlawDetail.NothingRetained());
        } else {
            reach();
        }
        sabotage();
        for (int i = 0; i < version.retain().size(); i++) {
            RetainRule rule = version.retain().get(i);
            if (!followers.roles().isEmpty() && !followers.roles().contains(rule.role())) {
                found.add(
                        "role-unserved",
                        "retain." + i + ".role",
                        new FlawDetail.RoleUnserved(rule.role(), List.copyOf(followers.roles())));
            }
            room(i, rule);
        }
    }

    /** No rule keeps as much as is promised. Several rules of one role all count, so the longest says what it keeps. */
    private void reach() {
        Optional<Duration> promised = version.objective().reach();
        Duration longest = version.retain().stream()
                .map(this::reachOf)
                .max(Duration::compareTo)
                .orElse(Duration.ZERO);
        promised.filter(p -> longest.compareTo(p) < 0)
                .ifPresent(p -> found.add(
                        "reach-not-retained", "objective.reach", new FlawDetail.ReachNotRetained(p, longest)));
    }

    /** How far back every moment can be restored from what a rule keeps: so many fulls reach over one spacing fewer, at the worst. */
    private Duration reachOf(RetainRule rule) {
        Duration out = rule.reach().orElse(Duration.ZERO);
        if (rule.fulls().isPresent()
                && rule.logs()
                && spacing.isPresent()
                && rule.fulls().getAsInt() > 0) {
            Duration fulls = spacing.get().multipliedBy(rule.fulls().getAsInt() - 1L);
            out = out.compareTo(fulls) >= 0 ? out : fulls;
        }
        return out;
    }

    private void sabotage() {
        Optional<Duration> promised =
                Optional.ofNullable(version.objective().rpo().get(Hazard.SABOTAGE));
        boolean asked = version.copies().locked() > 0
                || version.retain().stream().anyMatch(r -> r.lock().isPresent());
        if (promised.isPresent()
                && !asked
                && (!followers.areThere() || followers.unlocked().isPresent())) {
            found.add(
                    "sabotage-without-lock",
                    "objective.sabotage",
                    new FlawDetail.SabotageWithoutLock(promised.get(), followers.unlocked()));
        }
    }

    /** Whether what it keeps at the least fits into each store of its role. */
    private void room(int i, RetainRule rule) {
        for (Followers.Filled store : followers.filled()) {
            double needed = fulls(rule) * store.full() + days(rule) * store.logsPerDay();
            if (store.role() == rule.role() && needed > store.capacity()) {
                found.add(
                        "store-too-small",
                        "retain." + i + "." + largest(rule),
                        new FlawDetail.StoreTooSmall(store.store(), rule.role(), needed, store.capacity()));
            }
        }
    }

    private static String largest(RetainRule rule) {
        return rule.reach().isPresent() ? "reach" : rule.fulls().isPresent() ? "fulls" : "rungs";
    }

    /** At the least: with each reach one full more, from which its beginning is restored. */
    private double fulls(RetainRule rule) {
        double byReach = rule.reach().isPresent() && spacing.isPresent()
                ? Math.floor((double) rule.reach().get().toMillis()
                                / spacing.get().toMillis())
                        + 1
                : 0;
        double rungs = rule.rungs().values().stream().mapToInt(n -> n).max().orElse(0);
        return Math.max(Math.max(byReach, rule.fulls().orElse(0)), rungs);
    }

    private double days(RetainRule rule) {
        return (double) reachOf(rule).toMillis() / DAY;
    }
}
