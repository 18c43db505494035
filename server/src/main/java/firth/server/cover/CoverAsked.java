package firth.server.cover;

import firth.core.model.Hazard;
import firth.server.platform.AskedWord;
import firth.server.platform.SearchWords;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.QueryParam;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Which of the fleet is to be shown, in which groups and in which order. What is empty asks for all. */
public final class CoverAsked {

    static final String POLICY = "policy";
    static final String SITE = "site";
    static final String ENGINE = "engine";

    /** What databases may be grouped by. */
    enum Grouping {
        POLICY,
        SITE,
        ENGINE,
        NONE
    }

    /** What may stand first in a group: the first name, the age furthest over its objective, the shortest reach, the least attainment. */
    enum Order {
        NAME,
        AGE,
        REACH,
        ATTAINMENT
    }

    @QueryParam("by")
    @DefaultValue("policy")
    String by = "policy";

    @QueryParam("order")
    @DefaultValue("name")
    String order = "name";

    /** The hazard by which the strictest group stands first. */
    @QueryParam("hazard")
    @DefaultValue("mishap")
    String hazard = "mishap";

    @QueryParam("words")
    @Nullable
    String words;

    @QueryParam("grade")
    @Nullable
    String grade;

    @QueryParam(POLICY)
    @Nullable
    String policy;

    @QueryParam(SITE)
    @Nullable
    String site;

    @QueryParam(ENGINE)
    @Nullable
    String engine;

    /** A label as its name and value, as in "class: sailings", or an owner, as in "owner: Ines". */
    @QueryParam("label")
    @Nullable
    String label;

    Grouping grouping() {
        return AskedWord.of(Grouping.class, "by", by);
    }

    Order inOrder() {
        return AskedWord.of(Order.class, "order", order);
    }

    Hazard hazard() {
        return AskedWord.hazard(hazard);
    }

    /** What a row has of each kind one may choose by. */
    static Map<String, List<String>> traits(Cover.Row row) {
        List<String> labels = new ArrayList<>(row.labels());
        if (row.owner() != null) {
            labels.add("owner: " + row.owner());
        }
        Map<String, List<String>> out = new LinkedHashMap<>();
        out.put("grade", List.of(row.grade()));
        out.put(
                POLICY,
                List.of(row.policy() == null ? "no policy" : row.policy().name()));
        out.put(SITE, List.of(row.site().isEmpty() ? "no site" : row.site()));
        out.put(ENGINE, List.of(row.engine().isEmpty() ? "not stated" : row.engine()));
        out.put("label", labels);
        return out;
    }

    /** Says of a row whether it has what is asked for. */
    Predicate<Cover.Row> asked() {
        SearchWords search = SearchWords.of(words);
        return row -> {
            Map<String, List<String>> traits = traits(row);
            return fits(grade, traits.get("grade"))
                    && fits(policy, traits.get(POLICY))
                    && fits(site, traits.get(SITE))
                    && fits(engine, traits.get(ENGINE))
                    && fits(label, traits.get("label"))
                    && search.areIn(Stream.concat(
                            Stream.of(row.id(), row.name()),
                            traits.values().stream().flatMap(List::stream)));
        };
    }

    private static boolean fits(@Nullable String wanted, @Nullable List<String> has) {
        return wanted == null || wanted.isEmpty() || (has != null && has.contains(wanted));
    }
}
