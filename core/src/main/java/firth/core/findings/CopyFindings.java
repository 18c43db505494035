package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Copies that are fewer than asked for, lie where they should not, or that no rule speaks of. */
public final class CopyFindings {

    /** How long a backup may lack copies before that is said: copying takes its time. */
    public static final Duration PATIENCE = Duration.ofDays(1);

    private final Evaluation e;
    private final Database database;
    private final History history;
    private final List<Finding> found = new ArrayList<>();

    private CopyFindings(Evaluation e) {
        this.e = e;
        this.database = e.database();
        this.history = e.history();
    }

    static List<Finding> of(Evaluation e, Fleet fleet) {
        CopyFindings findings = new CopyFindings(e);
        if (e.version().isEmpty()) {
            findings.noPolicy();
        } else {
            findings.noRule();
            findings.lacking();
        }
        fleet.route(e.database()).ifPresent(r -> findings.offRoute(r, fleet));
        return findings.found;
    }

    private void noPolicy() {
        found.add(Finding.of(
                "no-policy",
                Severity.NO_RULE,
                database.id(),
                database.id(),
                Optional.of(database.inServiceFrom()),
                new Detail.NoPolicy(),
                List.of()));
    }

    private void noRule() {
        Retention retention = e.retention();
        int copies = 0;
        double bytes = 0;
        Set<String> stores = new LinkedHashSet<>();
        for (int r = 0; r < retention.size(); r++) {
            if (retention.has(r, Reason.NO_RULE)) {
                copies++;
                bytes += Double.isNaN(retention.bytes(r)) ? 0 : retention.bytes(r);
                stores.add(retention.store(r));
            }
        }
        if (copies > 0) {
            found.add(Finding.of(
                    "no-rule",
                    Severity.NO_RULE,
                    database.id(),
                    "policy:" + e.version().map(PolicyVersion::id).orElse("") + "/" + String.join(",", stores),
                    Optional.empty(),
                    new Detail.NoRule(copies, bytes, List.copyOf(stores)),
                    List.of()));
        }
    }

    private void lacking() {
        Set<Integer> backups = new LinkedHashSet<>();
        long oldest = Long.MAX_VALUE;
        long by = e.asOf().minus(PATIENCE).toEpochMilli();
        for (int r = 0; r < e.retention().size(); r++) {
            int i = e.retention().backup(r);
            if (history.endedMs(i) <= by && e.retention().has(r, Reason.COPY_PENDING)) {
                backups.add(i);
                oldest = Math.min(oldest, history.endedMs(i));
            }
        }
        if (!backups.isEmpty()) {
            Instant since = Instant.ofEpochMilli(oldest);
            found.add(Finding.of(
                    "copies-lacking",
                    Severity.RULE_BROKEN,
                    database.id(),
                    database.id(),
                    Optional.of(since),
                    new Detail.CopiesLacking(backups.size(), since, database.zone()),
                    backups.stream()
                            .sorted(Comparator.comparing(history::endedMs).reversed())
                            .map(history::id)
                            .limit(5)
                            .toList()));
        }
    }

    /** The newest of each kind that lies where its route does not lead, or on an alternate. */
    private void offRoute(Route route, Fleet fleet) {
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR, Kind.LOG)) {
            List<String> choices = kind == Kind.LOG && !route.log().isEmpty() ? route.log() : route.data();
            Set<String> first = kind == Kind.LOG ? route.logStores() : route.dataStores();
            newest(kind).ifPresent(i -> {
                Set<String> lies = new LinkedHashSet<>();
                for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                    if (history.landedMs(c) <= e.asOf().toEpochMilli()
                            && history.goneMs(c) > e.asOf().toEpochMilli()) {
                        lies.add(history.store(c));
                    }
                }
                List<String> beside = lies.stream()
                        .filter(s -> !first.contains(s) && leadsTo(fleet, s))
                        .toList();
                List<String> off =
                        beside.stream().filter(s -> !choices.contains(s)).toList();
                List<String> alternates =
                        beside.stream().filter(choices::contains).toList();
                stray("off-route", i, off);
                stray("on-alternate", i, alternates);
            });
        }
    }

    /** Deep stores take what rungs ask for, wherever routes lead. */
    private static boolean leadsTo(Fleet fleet, String store) {
        return fleet.store(store)
                .filter(s ->
                        s.role().filter(r -> r == firth.core.model.Role.DEEP).isEmpty())
                .isPresent();
    }

    private void stray(String code, int i, List<String> stores) {
        if (!stores.isEmpty()) {
            found.add(Finding.of(
                    code,
                    Severity.RULE_BROKEN,
                    database.id(),
                    code + ":" + String.join(",", stores),
                    Optional.of(Instant.ofEpochMilli(history.endedMs(i))),
                    new Detail.OffRoute(code.equals("on-alternate"), history.kind(i), stores),
                    List.of(history.id(i))));
        }
    }

    private Optional<Integer> newest(Kind kind) {
        long now = e.asOf().toEpochMilli();
        int out = -1;
        for (int i = history.size() - 1; i >= 0; i--) {
            boolean counts = history.kind(i) == kind && history.endedMs(i) <= now;
            if (counts && (out < 0 || history.endedMs(i) > history.endedMs(out))) {
                out = i;
            }
        }
        return out < 0 ? Optional.empty() : Optional.of(out);
    }
}
