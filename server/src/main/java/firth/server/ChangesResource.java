package firth.server;

import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.operators.multi.processors.BroadcastProcessor;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Duration;
import org.jboss.resteasy.reactive.RestStreamElementType;

/** Tells every browser at once when facts have come in, so that none needs to ask again and again. */
@Path("/api/changes")
@ApplicationScoped
public class ChangesResource {

    /** Something is said this often even where nothing changed, so that a connection that broke is noticed. */
    private static final Duration BEAT = Duration.ofSeconds(20);

    private final BroadcastProcessor<String> changes = BroadcastProcessor.create();

    ChangesResource(FactsHolder facts) {
        facts.store().onChange(() -> changes.onNext("facts"));
    }

    /** Server-sent events: {@code facts} after each delivery that was taken, {@code beat} now and then. */
    @GET
    @Produces(MediaType.SERVER_SENT_EVENTS)
    @RestStreamElementType(MediaType.TEXT_PLAIN)
    public Multi<String> changes() {
        Multi<String> beats = Multi.createFrom()
                .ticks()
                .every(BEAT)
                .map(t -> "beat")
                .onOverflow()
                .drop();
        return Multi.createBy().merging().streams(changes.onOverflow().drop(), beats);
    }
}
