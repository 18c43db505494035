package firth.server.evaluation;

import firth.server.platform.Roles;
import io.smallrye.mutiny.Multi;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Duration;
import org.jboss.resteasy.reactive.RestStreamElementType;

/** Tells every browser at once when facts have come in, so that none needs to ask again and again. */
@Path("/api/changes")
@RolesAllowed(Roles.VIEWER)
public class ChangesResource {

    /** Something is said this often even where nothing changed, so that a connection that broke is noticed. */
    private static final Duration BEAT = Duration.ofSeconds(20);

    private final Changes changes;

    ChangesResource(Changes changes) {
        this.changes = changes;
    }

    /**
     * Server-sent events: {@code facts [...]} after each delivery that was taken, with the databases it alone is about where it
     * is about few; {@code found [...]} when what Watch says of some databases has changed by it or by time; {@code beat} now and then.
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
        return Multi.createBy().merging().streams(changes.told(), beats);
    }
}
