package firth.server.agents;

import firth.exchange.Texts;
import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.server.sheets.Sheets;
import firth.server.sheets.SheetsView;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The sheets an agent lays beside the backups of its store (docs/agents.md). */
@Path("/api/agents/{store}/sheets")
@RolesAllowed(Roles.AGENT)
public class AgentSheetsResource {

    private final Sheets sheets;
    private final Who who;

    AgentSheetsResource(Sheets sheets, Who who) {
        this.sheets = sheets;
        this.who = who;
    }

    /** @param since those written later; absent: all */
    @GET
    public List<SheetsView.SheetFor> sheets(
            @PathParam("store") String store, @QueryParam("since") @Nullable String since) {
        who.checkAgentAt(store);
        Instant moment = since == null || since.isEmpty()
                ? Instant.EPOCH
                : Texts.instant(since).orElseThrow(() -> new BadRequest("since", "is not an RFC 3339 instant"));
        return sheets.of(store, moment);
    }
}
