package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import java.time.Instant;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A forecast made as of a moment knows nothing of what came after it, so that it can be held against what came. */
class ForecastOfThenTest {

    private static final int DAYS = 20;

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    private static Forecast forecast(RandomFleet world, List<Backup> backups, Instant at) {
        HistoryBuilder history = History.of(world.database);
        backups.forEach(history::add);
        DatabaseFacts facts = new DatabaseFacts(world.database, history.build(), List.of(), List.of());
        return Forecast.of(new Forecast.Basis(facts, world.fleet, at), world.fleet, DAYS);
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void asOfEqualsTheHistoryCut(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant then = world.anyMoment();
        Forecast cut = forecast(world, world.knownBy(then), then);
        HistoryBuilder all = History.of(world.database);
        world.backups.forEach(all::add);
        DatabaseFacts facts = new DatabaseFacts(
                world.database,
                History.of(world.database)
                        .addKnown(all.build(), then.toEpochMilli())
                        .build(),
                List.of(),
                List.of());
        Forecast whole = Forecast.of(new Forecast.Basis(facts, world.fleet, then), world.fleet, DAYS);
        assertEquals(cut.room().keySet(), whole.room().keySet());
        cut.room().forEach((store, room) -> assertArrayEquals(room, whole.room().get(store), 1e-6, store));
        cut.obsolete()
                .forEach((store, o) -> assertArrayEquals(o, whole.obsolete().get(store), 1e-6, store));
    }
}
