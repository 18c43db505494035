package firth.demo;

import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Forecast;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** The forecast made on the demo's thirtieth day, held against its next thirty (docs/forecast.md, "How well it foretells"). */
class BackTest {

    private static final int DAYS = 30;

    private static MemoryCatalog demo(Instant now) throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        for (SaltmarshFerries.Part part : SaltmarshFerries.Part.values()) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            new SaltmarshFerries(now, SaltmarshFerries.SEED).write(part, out);
            FleetFileReader.read(new ByteArrayInputStream(out.toByteArray()), part.source(), catalog);
        }
        return catalog;
    }

    /** What the rules need in each store as of a moment. */
    private static Map<String, Double> needed(List<DatabaseFacts> all, Fleet fleet, Instant asOf) {
        Map<String, Double> out = new TreeMap<>();
        for (DatabaseFacts facts : all) {
            Evaluation e = Evaluation.of(facts, fleet, asOf, new Span(asOf, asOf));
            for (int k = 0; k < e.retention().size(); k++) {
                if (e.retention().verdict(k) == Verdict.NEEDED) {
                    out.merge(e.retention().store(k), e.retention().bytes(k), Double::sum);
                }
            }
        }
        return out;
    }

    @Test
    void theFirstThirtyDaysForetellTheNext() throws IOException {
        Instant now = Instant.parse("2026-11-23T09:12:00Z");
        MemoryCatalog catalog = demo(now);
        Instant asOf = now.minus(Duration.ofDays(DAYS));
        List<DatabaseFacts> all = new ArrayList<>(catalog.databases());
        all.removeIf(d -> d.database().inServiceFrom().isAfter(asOf));
        List<Forecast> forecasts = all.stream()
                .map(d -> Forecast.of(new Forecast.Basis(d, catalog.fleet(), asOf), catalog.fleet(), DAYS))
                .toList();
        for (int day : new int[] {7, 14, 21, 30}) {
            Map<String, Double> then = needed(all, catalog.fleet(), asOf.plus(Duration.ofDays(day)));
            for (Map.Entry<String, Double> store : then.entrySet()) {
                double foretold = forecasts.stream()
                        .mapToDouble(f -> f.room().getOrDefault(store.getKey(), new double[DAYS + 1])[day])
                        .sum();
                double error = foretold / store.getValue() - 1;
                assertTrue(
                        Math.abs(error) < 0.10,
                        () -> "room in " + store.getKey() + " after " + day + " days is off by " + error);
            }
        }
    }
}
