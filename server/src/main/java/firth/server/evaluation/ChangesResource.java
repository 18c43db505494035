package firth.server.evaluation;

import com.fasterxml.jackson.core.JsonProcessingException;
import firth.exchange.Json;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.operators.multi.processors.BroadcastProcessor;
import jakarta.annotation.security.RolesAllowed;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Duration;
import java.util.Set;
import java.util.TreeSet;
import org.jboss.resteasy.reactive.RestStreamElementType;

/** Tells every browser at once when facts have come in, so that none needs to ask again and again. */
@Path("/api/changes")
@ApplicationScoped
@RolesAllowed(Roles.VIEWER)
public class ChangesResource {

    /** Something is said this often even where nothing changed, so that a connection that broke is noticed. */
    private static final Duration BEAT = Duration.ofSeconds(20);

    /** Of a delivery that touches more databases than this it is not said which. */
    public static final int FEW = 40;

    private final BroadcastProcessor<String> changes = BroadcastProcessor.create();

    ChangesResource(FactsHolder facts) {
        facts.store().onChange(touched -> changes.onNext("facts " + few(touched)));
    }

    /** Tells that time alone has changed what is said of some databases. */
    void moved(Set<String> databases) {
        changes.onNext("facts " + few(databases));
    }

    /** The databases whose facts alone have changed, as a JSON array; an empty one where others may have. */
    private static String few(Set<String> touched) {
        try {
            boolean few = touched.size() <= FEW && !touched.contains("");
            return Json.MAPPER.writeValueAsString(few ? new TreeSet<>(touched) : Set.of());
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("Names cannot be written as JSON", e);
        }
    }

    /**
     * Server-sent events: {@code facts [...]} after each delivery that was taken, with the databases it alone is about where it
     * is about few, {@code beat} now and then.
     */
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
