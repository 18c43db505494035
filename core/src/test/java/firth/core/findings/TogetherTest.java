package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Finding.Severity;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TogetherTest {

    private static final String[] CAUSES = {"store:near", "store:far", "failing:x"};

    /** Some have a cause that others share, some are of the database alone, and ranks tie. */
    private static List<Finding> some(Random random, String database) {
        List<Finding> out = new ArrayList<>();
        for (int k = random.nextInt(4); k > 0; k--) {
            out.add(Finding.of(
                    random.nextBoolean() ? "behind" : "spill",
                    random.nextBoolean() ? Severity.BEHIND : Severity.SPILL,
                    database,
                    random.nextBoolean() ? database + "/" + k : CAUSES[random.nextInt(CAUSES.length)],
                    Optional.of(Instant.ofEpochSecond(random.nextInt(3))),
                    new Detail.NoPolicy(),
                    List.of("r" + random.nextInt(5))));
        }
        return out;
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5})
    void whatIsKeptIsWhatAnewWouldBeAfterAnyChange(long seed) {
        Random random = new Random(seed);
        Together kept = new Together();
        Map<String, List<Finding>> each = new TreeMap<>();
        Map<String, String> names = new HashMap<>();
        int shared = 0;
        for (int step = 0; step < 400; step++) {
            String database = "d" + random.nextInt(12);
            switch (random.nextInt(8)) {
                case 0 -> each.remove(database);
                case 1 -> names.put(database, "Name " + random.nextInt(3));
                default -> each.put(database, some(random, database));
            }
            List<Finding> besides = random.nextBoolean() ? some(random, "z") : List.of();
            List<Finding> found = kept.of(each, besides, names);
            assertEquals(new Together().of(each, besides, names), found);
            List<Finding> all = new ArrayList<>();
            each.values().forEach(all::addAll);
            all.addAll(besides);
            assertEquals(new Together().of(Map.of(), all, names), found);
            shared += (int) found.stream().filter(f -> f.databases().size() > 1).count();
        }
        assertTrue(shared > 400, "causes that several share: " + shared);
    }
}
