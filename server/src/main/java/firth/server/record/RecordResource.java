package firth.server.record;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import firth.core.record.Chain;
import firth.core.record.Deed;
import firth.exchange.Json;
import firth.exchange.RecordLines;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.util.List;
import java.util.Map;

/** What people and programs did. */
@Path("/api/record")
@RolesAllowed(Roles.VIEWER)
public class RecordResource {

    private static final int PAGE = 100;

    private final FactsHolder facts;

    RecordResource(FactsHolder facts) {
        this.facts = facts;
    }

    /** Entries before one, the newest first; with words, those alone that have them. */
    @GET
    public RecordView entries(
            @QueryParam("before") @DefaultValue("9223372036854775807") long before,
            @QueryParam("words") @DefaultValue("") String words) {
        List<Deed> found = facts.store().deeds().before(before, words, PAGE + 1);
        return new RecordView(
                found.stream().limit(PAGE).map(RecordResource::view).toList(),
                found.size() > PAGE,
                facts.store().deliveries().open().stream()
                        .map(h -> new RecordView.Delivering(
                                h.who(), h.source(), h.first(), h.deliveries(), h.added(), h.updated()))
                        .toList());
    }

    static RecordView.DeedView view(Deed d) {
        try {
            return new RecordView.DeedView(
                    d.number(),
                    d.at(),
                    d.who(),
                    d.act(),
                    d.about(),
                    Json.MAPPER.readValue(d.detail(), new TypeReference<Map<String, Object>>() {}),
                    d.hash());
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("Entry " + d.number() + " of the record is not JSON", e);
        }
    }

    /** Walks the whole record and says whether every entry follows from the one before. */
    @GET
    @Path("/whole")
    public RecordView.Wholeness whole() {
        Chain chain = new Chain();
        facts.store().deeds().all(chain::add);
        return new RecordView.Wholeness(
                chain.length(),
                chain.head(),
                chain.broken().map(Chain.Break::number).orElse(null),
                chain.broken().map(Chain.Break::what).orElse(null));
    }

    /** The whole record, an entry a line, as {@code firth verify-record} reads it. */
    @GET
    @Path("/export")
    @Produces("application/x-ndjson")
    public StreamingOutput export() {
        return to -> {
            try (RecordLines.Writing out = new RecordLines.Writing(to)) {
                facts.store().deeds().all(out::write);
            }
        };
    }
}
