package firth.server;

import firth.exchange.Told;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import io.quarkus.arc.Arc;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;

/** Listings of stores made from what the catalog takes to be there. */
public final class StoreListing {

    private StoreListing() {}

    /** What a store lists that has all the catalog takes to be there: by path, the size. */
    public static Map<String, Long> whole(String store, Instant now) {
        Map<String, Long> out = new TreeMap<>();
        try (Snapshot snapshot =
                Arc.container().instance(FactsHolder.class).get().store().read()) {
            snapshot.copiesIn(store, copy -> {
                boolean there = copy.gone().isEmpty()
                        && copy.spoiledFound().isEmpty()
                        && copy.landed().isBefore(now.minus(Duration.ofMinutes(2)));
                Told.path(copy.told())
                        .filter(p -> there)
                        .ifPresent(p -> out.put(p, Math.round(copy.bytes().orElseThrow())));
            });
        }
        return out;
    }

    /** It as a table. */
    public static byte[] table(Map<String, Long> files) {
        StringBuilder out = new StringBuilder("path,size\n");
        files.forEach((path, size) -> out.append(path).append(',').append(size).append('\n'));
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }
}
