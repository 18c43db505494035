package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.arc.All;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What pages need of every database comes back from its bytes as it was. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class KeptOverARestartTest {

    @Inject
    @All
    List<Part<?>> parts;

    @Inject
    Evaluations evaluations;

    @Inject
    Lookout lookout;

    @Test
    void everyPartOfEveryDatabaseComesBackAsItWas() {
        List<byte[]> written = evaluations.walk(d -> true, lookout.view("", ""), one -> {
            Map<Class<?>, Object> own = new HashMap<>();
            parts.forEach(p -> own.put(p.getClass(), p.of(one)));
            return SummaryBytes.of(own);
        });
        assertTrue(written.size() > 10, written.size() + " databases");
        for (byte[] bytes : written) {
            Map<String, Object> back =
                    SummaryBytes.read(bytes, evaluations.fleetNow()).orElseThrow();
            Map<Class<?>, Object> byClass = new HashMap<>();
            parts.forEach(p -> byClass.put(p.getClass(), back.get(p.getClass().getName())));
            assertFalse(byClass.containsValue(null), "a part is lost");
            assertArrayEquals(bytes, SummaryBytes.of(byClass));
        }
    }

    @Test
    void whatCannotBeReadIsNotUsed() {
        byte[] bytes = SummaryBytes.of(Map.of(String.class, List.of("a", "b")));
        assertEquals(
                List.of("a", "b"),
                SummaryBytes.read(bytes, evaluations.fleetNow()).orElseThrow().get(String.class.getName()));
        for (int cut = 0; cut < bytes.length; cut++) {
            assertEquals(
                    Optional.empty(),
                    SummaryBytes.read(Arrays.copyOf(bytes, cut), evaluations.fleetNow()),
                    cut + " bytes");
        }
    }
}
