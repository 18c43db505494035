package firth.server.record;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.server.evaluation.HouseFindings;
import firth.server.platform.FactsHolder;
import firth.store.Turned;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Records somebody said were of another database, kind or lineage than was known: told for a month. */
@ApplicationScoped
class TurnedFindings implements HouseFindings {

    private static final Duration TOLD = Duration.ofDays(30);

    private final FactsHolder facts;

    TurnedFindings(FactsHolder facts) {
        this.facts = facts;
    }

    @Override
    public List<Finding> findings(Instant now) {
        Map<String, List<Turned.Turn>> byCause = facts.store().turned().since(now.minus(TOLD)).stream()
                .collect(Collectors.groupingBy(
                        t -> t.of() + "|" + t.who() + "|" + t.field() + "|" + t.taken(),
                        TreeMap::new,
                        Collectors.toList()));
        return byCause.entrySet().stream()
                .map(e -> finding(e.getKey(), e.getValue()))
                .toList();
    }

    private static Finding finding(String cause, List<Turned.Turn> turned) {
        Turned.Turn first = turned.get(0);
        boolean taken = first.taken();
        return Finding.of(
                "record-turned",
                Severity.CONTRADICTION,
                first.of(),
                cause,
                Optional.of(turned.stream()
                        .map(Turned.Turn::at)
                        .min(Instant::compareTo)
                        .orElseThrow()),
                new Detail.RecordTurned(
                        first.who(), taken, first.record(), first.field(), first.known(), first.said(), turned.size()),
                turned.stream()
                        .map(t -> t.record().substring(t.record().indexOf(' ') + 1))
                        .distinct()
                        .toList());
    }
}
