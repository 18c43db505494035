package firth.server.live;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.server.platform.NotFound;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jspecify.annotations.Nullable;

/** What the program that keeps the live fleet says and is asked for, in a directory both know (docs/live.md). */
@ApplicationScoped
public class LiveFleet {

    private final Optional<Path> directory;
    private final ObjectMapper json;

    LiveFleet(@ConfigProperty(name = "firth.live") Optional<String> directory, ObjectMapper json) {
        this.directory = directory.map(Path::of);
        this.json = json;
    }

    private Path directory() {
        return directory.orElseThrow(() -> new NotFound("There is no live fleet here; ./firth live starts one."));
    }

    /** How things stand; nothing in it while the fleet is being set up. */
    LiveView view() throws IOException {
        List<LiveView.LiveFault> faults = new ArrayList<>();
        List<LiveView.LiveTruth> truth = new ArrayList<>();
        JsonNode state = state();
        for (JsonNode f : state.path("faults")) {
            String id = f.path("id").asText();
            faults.add(new LiveView.LiveFault(
                    id,
                    f.path("title").asText(),
                    f.path("shows").asText(),
                    f.path("once").asBoolean(),
                    f.path("broken").asBoolean(),
                    Files.exists(wish(id)),
                    moment(f.path("at")),
                    f.path("said").asText()));
        }
        for (JsonNode t : state.path("truth")) {
            truth.add(new LiveView.LiveTruth(
                    t.path("database").asText(),
                    t.path("rows").asLong(),
                    moment(t.path("committed")),
                    t.path("said").asText()));
        }
        return new LiveView(faults, truth);
    }

    private static @Nullable Instant moment(JsonNode at) {
        return at.isTextual() ? Instant.parse(at.asText()) : null;
    }

    private JsonNode state() throws IOException {
        try {
            return json.readTree(Files.readString(directory().resolve("state.json")));
        } catch (NoSuchFileException notYet) {
            return json.createObjectNode();
        }
    }

    private Path wish(String fault) {
        return directory().resolve("asked").resolve(fault);
    }

    /** Asks for something to be broken or put right. */
    void ask(String fault, boolean broken) throws IOException {
        LiveView.LiveFault known = view().faults().stream()
                .filter(f -> f.id().equals(fault))
                .findFirst()
                .orElseThrow(() -> new NotFound("There is no fault " + fault + " to try."));
        Path beside = directory().resolve(known.id() + ".new");
        Files.writeString(beside, String.valueOf(broken));
        Files.move(beside, wish(known.id()), StandardCopyOption.ATOMIC_MOVE);
    }
}
