package firth.server.sending;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.server.evaluation.HouseFindings;
import firth.server.platform.FactsHolder;
import firth.store.Outbox;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Messages that did not arrive: whoever waits for them does not know. */
@ApplicationScoped
class SendingFindings implements HouseFindings {

    private static final Duration TOLD = Duration.ofDays(7);

    private final FactsHolder facts;

    SendingFindings(FactsHolder facts) {
        this.facts = facts;
    }

    @Override
    public List<Finding> findings(Instant now) {
        Map<String, List<Outbox.Message>> byList = facts.store().outbox().troubled(now.minus(TOLD)).stream()
                .collect(Collectors.groupingBy(Outbox.Message::list, TreeMap::new, Collectors.toList()));
        return byList.entrySet().stream()
                .map(e -> {
                    List<Outbox.Message> own = e.getValue();
                    return new Finding(
                            "sending-failed",
                            Severity.RULE_BROKEN,
                            e.getKey(),
                            List.of(),
                            own.stream().map(Outbox.Message::made).min(Instant::compareTo),
                            new Detail.NotDelivered(
                                    e.getKey(),
                                    own.size(),
                                    own.get(own.size() - 1).title(),
                                    own.get(own.size() - 1).told()),
                            List.of(),
                            List.of());
                })
                .toList();
    }
}
