package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import java.util.Set;

/** Sites, stores and routes as somebody states them on a page: each as a whole, so that what is not said is no longer so. */
public final class StatedPlaces {

    private static final Set<String> TYPES = Set.of("site", "store", "route");

    private StatedPlaces() {}

    /** Whether records of this type are places. */
    public static boolean isPlace(String type) {
        return TYPES.contains(type);
    }

    /**
     * The record that is said.
     *
     * @param type of a place
     * @throws BadField naming the first value that cannot be taken
     */
    public static Stated of(String type, JsonNode said) {
        if (!(said instanceof ObjectNode fields)) {
            throw new BadField("the " + type, "is not a JSON object");
        }
        ObjectNode whole = fields.deepCopy();
        whole.put("type", type);
        return new Stated(FleetRecords.read(type, Fields.counting(whole)), Json.canonical(whole));
    }
}
