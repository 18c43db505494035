package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.evaluation.Evaluation;
import firth.core.forecast.Regular;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.Particulars;
import firth.core.time.Span;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a catalog in memory makes of two machines that are one database. */
class StandbyBackupsTest {

    private static Database following(Database d, String id, String primary) {
        Particulars known = new Particulars(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Map.of(),
                Optional.ofNullable(primary),
                Optional.empty(),
                Optional.empty(),
                List.of());
        return Regular.like(d, id, known);
    }

    /** Whichever machine a backup was taken from, the database is as recoverable. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10})
    void backupsOfAStandbyCountAsIfTakenFromItsPrimary(long seed) {
        RandomFleet fleet = new RandomFleet(seed);
        MemoryCatalog apart = new MemoryCatalog();
        MemoryCatalog together = new MemoryCatalog();
        Random random = new Random(seed);
        fleet.fleet.stores().forEach(s -> {
            apart.put(s, "");
            together.put(s, "");
        });
        for (String policy : fleet.fleet.policies()) {
            fleet.fleet.versions(policy).forEach(v -> {
                apart.put(v, "");
                together.put(v, "");
            });
        }
        apart.put(fleet.database, "");
        apart.put(following(fleet.database, "stand-by", fleet.database.id()), "");
        together.put(fleet.database, "");
        for (Backup b : fleet.backups) {
            together.put(b);
            apart.put(random.nextBoolean() ? b : of(b, "stand-by"));
        }
        assertEquals(1, apart.databases().size());
        Span period = new Span(fleet.end.minus(Duration.ofDays(8)), fleet.end);
        assertEquals(described(together, period), described(apart, period));
        assertTrue(described(apart, period).length() > 100);
    }

    private static String described(MemoryCatalog catalog, Span period) {
        DatabaseFacts facts = catalog.databases().get(0);
        Evaluation e = Evaluation.of(facts, catalog.fleet(), period.to(), period);
        StringBuilder out = new StringBuilder();
        e.hazards()
                .forEach((hazard, h) -> out.append(hazard)
                        .append(h.restorable())
                        .append(h.achieved())
                        .append(h.breaches()));
        out.append(e.gaps()).append(e.grade()).append(e.slots());
        for (int k = 0; k < e.retention().size(); k++) {
            out.append(e.retention().verdict(k)).append(e.retention().reasons(k));
        }
        return out.toString();
    }

    private static Backup of(Backup b, String database) {
        return new Backup(
                b.id(),
                database,
                b.kind(),
                b.parent(),
                b.run(),
                b.started(),
                b.ended(),
                b.bytes(),
                b.lineage(),
                b.positions(),
                b.times(),
                b.consistentAt(),
                b.selfContained(),
                b.streamed(),
                b.lag(),
                b.verified(),
                b.copies(),
                b.rest());
    }
}
