package firth.server.stocktake;

import firth.exchange.ListingReader;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import firth.store.Stocktakes.Take;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Listings as they come in, from agents and from people. */
@ApplicationScoped
public class Listings {

    private final Stocktaking taking;
    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Lookout lookout;

    Listings(Stocktaking taking, FactsHolder facts, Evaluations evaluations, Lookout lookout) {
        this.taking = taking;
        this.facts = facts;
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /**
     * Takes one.
     *
     * @param taken when it was begun; absent: now
     * @param whole whether it is all there is, however much it lacks
     */
    public StockView.ListingTaken take(Take asked, InputStream body, @Nullable String taken, boolean whole)
            throws IOException {
        Instant when = taken == null || taken.isEmpty()
                ? lookout.present().asOf()
                : Texts.instant(taken)
                        .flatMap(lookout::passed)
                        .orElseThrow(() -> new BadRequest("taken", "is not a moment that has passed"));
        ListingReader.Listing listing = ListingReader.read(body);
        if (listing.files().isEmpty() && listing.bad() > 0) {
            throw new BadRequest("listing", listing.flaws().get(0));
        }
        Take done = taking.take(asked, listing.files(), when, whole);
        try (Snapshot snapshot = facts.store().read()) {
            return new StockView.ListingTaken(
                    StockViews.view(done, evaluations.fleet(snapshot)), listing.flaws(), listing.bad());
        }
    }
}
