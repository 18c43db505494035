package firth.core.history;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.model.Backup;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** The room taken up at a moment is that of the copies that had landed and were not gone by then. */
class RoomTest {

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void isThatOfTheCopiesThere(long seed) {
        RandomFleet world = new RandomFleet(seed);
        // A log that is received continuously lands when it is whole.
        world.backups.removeIf(Backup::streamed);
        History history = world.facts().history();
        Instant asOf = world.anyMoment();
        int steps = 1 + (int) (seed % 40);
        Span span = new Span(RandomFleet.BEGIN.plus(Duration.ofHours(seed % 200)), world.end);
        Room room = new Room(history, span, steps, asOf);
        assertEquals(span.from(), room.moment(0));
        assertEquals(span.to(), room.moment(steps));
        for (int s = 0; s < room.stores().size(); s++) {
            List<Double> bytes = room.bytes(s);
            assertEquals(steps + 1, bytes.size());
            for (int m = 0; m <= steps; m++) {
                assertEquals(naive(world, room.stores().get(s), room.moment(m), asOf), bytes.get(m), 1e-3);
            }
        }
    }

    private static double naive(RandomFleet world, String store, Instant at, Instant asOf) {
        Instant known = at.isBefore(asOf) ? at : asOf;
        return world.backups.stream()
                .flatMap(b -> b.copies().stream()
                        .filter(c -> c.store().equals(store) && !c.landed().isAfter(known))
                        .filter(c -> c.gone().filter(g -> !g.isAfter(known)).isEmpty())
                        .map(c -> c.bytes().orElse(b.bytes().orElse(0))))
                .mapToDouble(d -> d)
                .sum();
    }
}
