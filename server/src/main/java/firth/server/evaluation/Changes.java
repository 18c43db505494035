package firth.server.evaluation;

import com.fasterxml.jackson.core.JsonProcessingException;
import firth.exchange.Json;
import firth.server.platform.FactsHolder;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.operators.multi.processors.BroadcastProcessor;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.Set;
import java.util.TreeSet;

/** What has changed, by what came in or by time alone, as it is told to every browser. */
@ApplicationScoped
public class Changes {

    /** Of a delivery that touches more databases than this it is not said which. */
    public static final int FEW = 40;

    private final BroadcastProcessor<String> told = BroadcastProcessor.create();

    Changes(FactsHolder facts) {
        facts.store().onChange(this::moved);
    }

    /** Tells that what is said of some databases has changed; an empty name among them: of others, too. */
    void moved(Set<String> databases) {
        told.onNext("facts " + few(databases));
    }

    /** Tells that what Watch says of some databases has changed. */
    void found(Set<String> databases) {
        told.onNext("found " + few(databases));
    }

    /** What is told from now on; who cannot keep up misses some. */
    Multi<String> told() {
        return told.onOverflow().drop();
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
}
