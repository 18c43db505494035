package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.adherence.OpenTime;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.exchange.FleetFileReader;
import firth.exchange.Json;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/** What the rules of a database ask of how its backups are taken and copied. */
interface Rules {

    /** Nothing is said of it. */
    Rules NONE = database -> Asked.NOTHING;

    /**
     * What is asked now.
     *
     * @param most how fast it may go, in bytes a second; empty where there is no limit
     * @param compressed whether backups are to be compressed
     */
    record Asked(OptionalDouble most, boolean compressed) {

        static final Asked NOTHING = new Asked(OptionalDouble.empty(), false);
    }

    Asked of(String database);

    /**
     * By what Firth said last.
     *
     * @param facts lines of the exchange format: databases and policies
     */
    static Asked of(List<String> facts, String database, Instant now) throws IOException {
        if (facts.stream().noneMatch(l -> l.contains("\"rateLimits\"") || l.contains("\"compressed\""))) {
            return Asked.NOTHING;
        }
        MemoryCatalog catalog = new MemoryCatalog();
        byte[] bytes = String.join("\n", facts).getBytes(StandardCharsets.UTF_8);
        FleetFileReader.read(new ByteArrayInputStream(bytes), "what Firth said last", catalog);
        Optional<Database> known = catalog.databases().stream()
                .map(DatabaseFacts::database)
                .filter(d -> d.id().equals(database))
                .findFirst();
        Optional<PolicyVersion> rules = known.flatMap(d -> catalog.fleet().versionAt(d, now));
        if (rules.isEmpty()) {
            return Asked.NOTHING;
        }
        boolean open = new OpenTime(rules.get().openHours(), known.get().zone()).contains(now);
        OptionalDouble out = OptionalDouble.empty();
        for (String fact : facts) {
            JsonNode line = Json.MAPPER.readTree(fact);
            boolean its = line.path("type").asText().equals("policy")
                    && line.path("id").asText().equals(rules.get().id())
                    && line.path("version").asInt(1) == rules.get().version();
            for (JsonNode limit : its ? line.path("rateLimits") : Json.MAPPER.createArrayNode()) {
                double most = limit.path("bytesPerSecond").asDouble(0);
                boolean holds = switch (limit.path("hours").asText("always")) {
                    case "open" -> open;
                    case "closed" -> !open;
                    default -> true;
                };
                if (holds && most > 0 && most < out.orElse(Double.MAX_VALUE)) {
                    out = OptionalDouble.of(most);
                }
            }
        }
        return new Asked(out, rules.get().demands().compressed());
    }
}
