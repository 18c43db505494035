package firth.server.intake;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import firth.core.record.Deed;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.Json;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.store.FactStore;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Records that people state on a page: taken the way a fleet file is, so that all they say is checked alike. */
@ApplicationScoped
public class ByHand {

    private static final String SOURCE = "by hand";

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    ByHand(FactsHolder facts, Lookout lookout, Who who) {
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    private record Stated(Optional<Instant> newestFact, Optional<Deed.Told> deed) implements FactStore.Delivery {
        @Override
        public String source() {
            return SOURCE;
        }
    }

    /** A record that cannot be taken; then none of those given with it is. */
    private static final class Refused extends RuntimeException {
        Refused(String message) {
            super(message);
        }
    }

    /**
     * Takes records as lines of a fleet file, all of them or none.
     *
     * @throws BadRequest where one cannot be taken
     */
    public void take(List<String> lines) {
        byte[] file = String.join("\n", lines).getBytes(StandardCharsets.UTF_8);
        try {
            facts.store()
                    .write(
                            catalog -> {
                                ImportReport report =
                                        FleetFileReader.read(new ByteArrayInputStream(file), SOURCE, catalog);
                                report.rejected().stream().findFirst().ifPresent(r -> {
                                    throw new Refused(r.field() + " " + r.reason());
                                });
                                return report;
                            },
                            r -> new Stated(Optional.empty(), Optional.of(told(lines))),
                            lookout.now());
        } catch (Refused e) {
            throw new BadRequest("The record:", e.getMessage());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What the record says of it: the first record names the act, all of them are kept. */
    private Deed.Told told(List<String> lines) {
        ArrayNode records = Json.MAPPER.createArrayNode();
        try {
            for (String line : lines) {
                records.add(Json.MAPPER.readTree(line));
            }
        } catch (JsonProcessingException e) {
            throw new IllegalArgumentException("a record stated by hand is not JSON", e);
        }
        JsonNode first = records.path(0);
        return new Deed.Told(
                who.id(),
                first.path("type").asText(),
                first.path("id").asText(),
                Json.MAPPER.createObjectNode().set("records", records).toString());
    }
}
