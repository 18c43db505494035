package firth.core.model;

import java.util.List;
import java.util.Optional;

/**
 * How backups under a policy are taken (docs/semantics.md, "How backups are taken"). It decides when runs start and how fast they go, and
 * is looked at afterwards; it never changes what can be restored.
 *
 * @param order the kinds that wait for one another: of those due at once the earlier goes first; kinds that are not named wait for nothing
 */
public record Taking(List<RateLimit> limits, Optional<SourceLogs> sourceLogs, List<Kind> order, List<Then> then) {

    public static final Taking NONE = new Taking(List.of(), Optional.empty(), List.of(), List.of());

    public Taking {
        limits = List.copyOf(limits);
        order = List.copyOf(order);
        then = List.copyOf(then);
    }

    /** The kinds that go before one. */
    public List<Kind> before(Kind kind) {
        return order.subList(0, Math.max(0, order.indexOf(kind)));
    }
}
