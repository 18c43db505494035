package firth.server.intake;

import firth.core.history.Stated;
import firth.core.record.Deed;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;
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
        Stated first = stated.get(0);
        String all = stated.stream().map(Stated::document).collect(Collectors.joining(",", "{\"records\":[", "]}"));
        facts.store()
                .state(
                        SOURCE,
                        stated,
                        new Deed.Told(
                                who.id(), first.record().type(), first.record().id(), all),
                        lookout.now());
    }

    public void take(Stated stated) {
        take(List.of(stated));
    }
}
