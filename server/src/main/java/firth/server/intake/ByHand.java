package firth.server.intake;

import firth.core.history.Stated;
import firth.core.record.Deed;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/** What people state on a page. */
@ApplicationScoped
public class ByHand {

    private static final String SOURCE = "by hand";

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    ByHand(FactsHolder facts, Lookout lookout, Who who) {
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    /** Takes what is stated, all of it or none; the record names the act by the first and holds all. */
    public void take(List<Stated> stated) {
        take(() -> stated);
    }

    /** @param stating called once nobody else can write any more; what it throws leaves everything as it was */
    public void take(Supplier<List<Stated>> stating) {
        facts.store().state(SOURCE, stating, this::deed, lookout.now());
    }

    private Deed.Told deed(List<Stated> stated) {
        Stated first = stated.get(0);
        String all = stated.stream().map(Stated::document).collect(Collectors.joining(",", "{\"records\":[", "]}"));
        return new Deed.Told(who.id(), first.record().type(), first.record().id(), all);
    }

    public void take(Stated stated) {
        take(List.of(stated));
    }
}
