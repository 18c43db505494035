package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.time.Recurrence;
import firth.server.DemoFleet;
import io.quarkus.arc.All;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
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
    List<SummaryPart<?>> parts;

    @Inject
    Evaluations evaluations;

    @Inject
    Lookout lookout;

    @SuppressWarnings("ArrayRecordComponent") // never compared
    private record There(byte[] bytes, String said) {}

    @Test
    void everyPartOfEveryDatabaseComesBackAsItWas() {
        List<There> written = evaluations.walk(d -> true, lookout.view("", ""), one -> {
            Map<String, Object> own = new HashMap<>();
            parts.forEach(p -> own.put(p.getClass().getName(), p.of(one)));
            return new There(SummaryBytes.of(own), said(own));
        });
        assertTrue(written.size() > 10, written.size() + " databases");
        for (There there : written) {
            Map<String, Object> back =
                    SummaryBytes.read(there.bytes, evaluations.fleetNow()).orElseThrow();
            assertEquals(there.said, said(back));
        }
    }

    /** Everything a value holds, however deep. */
    private static String said(Object value) {
        if (value instanceof Recurrence recurrence) {
            // What it worked out already it keeps, more and more while others ask.
            return recurrence.written();
        }
        if (value instanceof double[] numbers) {
            return Arrays.toString(numbers);
        }
        if (value instanceof Map<?, ?> map) {
            return map.entrySet().stream()
                    .map(e -> said(e.getKey()) + "=" + said(e.getValue()))
                    .sorted()
                    .toList()
                    .toString();
        }
        if (value instanceof List<?> list) {
            return list.stream().map(KeptOverARestartTest::said).toList().toString();
        }
        if (value instanceof Optional<?> some) {
            return some.map(v -> "some " + said(v)).orElse("none");
        }
        if (value == null
                || value instanceof Enum
                || !value.getClass().getName().startsWith("firth.")) {
            return String.valueOf(value);
        }
        return value.getClass().getName()
                + Arrays.stream(value.getClass().getDeclaredFields())
                        .filter(f -> !Modifier.isStatic(f.getModifiers()))
                        .map(f -> f.getName() + ":" + said(held(f, value)))
                        .toList();
    }

    private static Object held(Field field, Object of) {
        try {
            field.setAccessible(true);
            return field.get(of);
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void whatCannotBeReadIsNotUsed() {
        byte[] bytes = SummaryBytes.of(Map.of("names", List.of("a", "b")));
        assertEquals(
                List.of("a", "b"),
                SummaryBytes.read(bytes, evaluations.fleetNow()).orElseThrow().get("names"));
        for (int cut = 0; cut < bytes.length; cut++) {
            assertEquals(
                    Optional.empty(),
                    SummaryBytes.read(Arrays.copyOf(bytes, cut), evaluations.fleetNow()),
                    cut + " bytes");
        }
    }
}
