package firth.server.platform;

import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.QueryParam;
import java.util.List;

/** The stretch of a long list that is asked for. */
public final class ListPart {

    private static final int MOST = 500;

    /** How many come before it. */
    @QueryParam("from")
    @DefaultValue("0")
    int from;

    /** How many are wanted, 0 to {@value #MOST}. */
    @QueryParam("most")
    @DefaultValue("100")
    int most;

    /**
     * That stretch of a list, as far as there is one.
     *
     * @throws BadRequest where it is none
     */
    public <T> List<T> of(List<T> all) {
        if (from < 0) {
            throw new BadRequest("from", "is to be 0 or more");
        }
        if (most < 0 || most > MOST) {
            throw new BadRequest("most", "is to be 0 to " + MOST);
        }
        int first = Math.min(from, all.size());
        return all.subList(first, Math.min(all.size(), first + most));
    }
}
