package firth.server.reports;

import firth.core.model.Accept;
import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.record.Deed;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.server.evaluation.FleetNow;
import firth.server.platform.FactsHolder;
import firth.store.ItemState;
import firth.store.Purges;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What people did in a period: deleted, tested, accepted. */
@ApplicationScoped
class DeedsOfPeriod {

    private final FactsHolder facts;

    DeedsOfPeriod(FactsHolder facts) {
        this.facts = facts;
    }

    List<ReportView.ReportDrill> drills(FleetNow fleet, List<Database> databases, Span period) {
        List<ReportView.ReportDrill> out = new ArrayList<>();
        for (Database database : databases) {
            for (Drill d : fleet.drills(database.id())) {
                Optional<Instant> at = d.at().filter(a -> !a.isBefore(period.from()) && a.isBefore(period.to()));
                at.ifPresent(a -> out.add(new ReportView.ReportDrill(
                        database.id(),
                        database.name(),
                        a,
                        d.proves() ? "proved" : d.ok().orElse(false) ? "nothing was checked" : "failed",
                        d.started()
                                .flatMap(s -> d.ended()
                                        .map(x -> Duration.between(s, x).toMillis() / 1000.0))
                                .orElse(null),
                        d.checks(),
                        d.message())));
            }
        }
        out.sort(Comparator.comparing(ReportView.ReportDrill::at).thenComparing(ReportView.ReportDrill::database));
        return out;
    }

    /** Lists of which something of these databases was deleted in the period. */
    List<ReportView.ReportPurge> purges(FleetNow fleet, List<Database> databases, Span period) {
        Set<String> ids = databases.stream().map(Database::id).collect(Collectors.toSet());
        List<ReportView.ReportPurge> out = new ArrayList<>();
        Purges purges = facts.store().purges();
        for (Purges.Purge p : purges.all()) {
            if (p.askedAt().isAfter(period.to())) {
                continue;
            }
            List<Purges.Item> deleted = purges.items(p.id(), ItemState.DELETED).stream()
                    .filter(i -> ids.contains(i.database())
                            && i.at().filter(a -> !a.isBefore(period.from()) && a.isBefore(period.to()))
                                    .isPresent())
                    .toList();
            if (deleted.isEmpty()) {
                continue;
            }
            Optional<Deed> last = List.of("purge-done", "purge-told", "purge-begun", "purge-asked").stream()
                    .flatMap(act -> facts.store().deeds().about(p.id(), act).stream())
                    .max(Comparator.comparing(Deed::number));
            out.add(new ReportView.ReportPurge(
                    p.id(),
                    p.store().map(fleet::storeName).orElse("the whole fleet"),
                    p.askedBy(),
                    List.copyOf(purges.approvals(p.id()).keySet()),
                    p.askedAt(),
                    p.state().word(),
                    deleted.size(),
                    deleted.stream()
                            .mapToDouble(i -> i.freed().orElse(i.bytes()))
                            .sum(),
                    last.map(Deed::number).orElse(0L),
                    last.map(Deed::hash).orElse("")));
        }
        out.sort(Comparator.comparing(ReportView.ReportPurge::at).thenComparing(ReportView.ReportPurge::id));
        return out;
    }

    /** What was borne at some moment of the period. */
    List<ReportView.ReportAccept> accepted(List<Database> databases, Span period, boolean all) {
        Set<String> ids = databases.stream().map(Database::id).collect(Collectors.toSet());
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.documents("accept").stream()
                    .map(text -> (Accept) FleetFileReader.recordOf(text))
                    .filter(a -> a.at().isBefore(period.to())
                            && a.withdrawn().orElse(a.until()).isAfter(period.from()))
                    .filter(a -> all || concerns(a, ids))
                    .sorted(Comparator.comparing(Accept::at).thenComparing(Accept::id))
                    .map(a -> new ReportView.ReportAccept(
                            a.finding().replace('|', ' '),
                            a.by(),
                            a.reason(),
                            a.at(),
                            a.withdrawn().orElse(a.until())))
                    .toList();
        }
    }

    /** A finding's key names what it is about after its code: a database, maybe with something of it. */
    private static boolean concerns(Accept accept, Set<String> ids) {
        String about = accept.finding().substring(accept.finding().indexOf('|') + 1);
        return ids.stream()
                .anyMatch(id -> about.equals(id)
                        || about.startsWith(id + "/")
                        || about.startsWith(id + "|")
                        || about.startsWith(id + " "));
    }
}
