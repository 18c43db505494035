package firth.server.purge;

import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.PurgeState;
import firth.store.Purges;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.StreamingOutput;
import jakarta.ws.rs.core.UriInfo;
import java.util.List;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Lists as files for those who delete by hand. */
@ApplicationScoped
class ListFiles {

    private final ListDecisions decisions;
    private final Batches handing;
    private final FactsHolder facts;
    private final Lookout lookout;

    ListFiles(ListDecisions decisions, Batches handing, FactsHolder facts, Lookout lookout) {
        this.decisions = decisions;
        this.handing = handing;
        this.facts = facts;
        this.lookout = lookout;
    }

    /** The list for those who delete by hand. */
    Response list(String id, String format, UriInfo asked) {
        decisions.checkWhole(id);
        return file(id, "list", format, asked, i -> i.state().isOpen());
    }

    /** Every item with what became of it, when, and who told. */
    Response outcomes(String id, String format, UriInfo asked) {
        return file(id, "outcomes", format, asked, i -> true);
    }

    private Response file(String id, String what, String format, UriInfo asked, Predicate<Purges.Item> which) {
        Purges.Purge purge = decisions.find(id);
        List<Purges.Item> items =
                facts.store().purges().items(id).stream().filter(which).toList();
        ByHandLists lists = new ByHandLists(
                purge,
                items,
                purge.state() == PurgeState.RUNNING,
                asked.getBaseUri().toString().replaceFirst("/$", ""),
                lookout.now().plus(ByHandLists.GOOD_FOR));
        StreamingOutput body = to -> lists.write(format, to);
        String name = what.equals("list") ? id : id + "-" + what;
        return Response.ok(body)
                .header("Content-Disposition", "attachment; filename=\"" + name + "." + format + "\"")
                .build();
    }

    /** Which items may be deleted by hand at this moment: ranges of their numbers, a line each, its ends parted by a blank. */
    String going(String id, @Nullable String hash) {
        StringBuilder out = new StringBuilder();
        int from = 0;
        int last = 0;
        for (int n : handing.going(id, hash)) {
            if (n != last + 1 || from == 0) {
                if (from > 0) {
                    out.append(from).append(' ').append(last).append('\n');
                }
                from = n;
            }
            last = n;
        }
        return from == 0
                ? ""
                : out.append(from).append(' ').append(last).append('\n').toString();
    }
}
