package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

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
            Map<Class<?>, Object> own = new HashMap<>();
            parts.forEach(p -> own.put(p.getClass(), p.of(one)));
            return new There(SummaryBytes.of(own), said(byName(own)));
        });
        assertTrue(written.size() > 10, written.size() + " databases");
        for (There there : written) {
            Map<String, Object> back =
                    SummaryBytes.read(there.bytes, evaluations.fleetNow()).orElseThrow();
            assertEquals(there.said, said(back));
        }
    }

    private static Map<String, Object> byName(Map<Class<?>, Object> parts) {
        Map<String, Object> out = new HashMap<>();
        parts.forEach((part, value) -> out.put(part.getName(), value));
        return out;
    }

    /** Everything a value holds, however deep. */
    private static String said(Object value) {
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
