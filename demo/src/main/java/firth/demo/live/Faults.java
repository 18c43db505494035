package firth.demo.live;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Does what is asked for in a directory, and says there how things stand: {@code asked/FAULT} holds {@code true} to break it and
 * {@code false} to put it right; {@code state.json} lists the faults, and what was committed to each database.
 */
final class Faults {

    private final Path directory;
    private final List<Fault> faults;
    private final Set<String> broken = new HashSet<>();
    private final Map<String, Instant> at = new HashMap<>();
    private final Map<String, String> said = new HashMap<>();

    Faults(Path directory, List<Fault> faults) throws IOException {
        this.directory = directory;
        this.faults = faults;
        Files.createDirectories(asked());
    }

    private Path asked() {
        return directory.resolve("asked");
    }

    /** Carries out what is asked for; whether anything was. */
    boolean obey() throws IOException, InterruptedException {
        boolean any = false;
        for (Fault fault : faults) {
            Path wish = asked().resolve(fault.id());
            if (Files.exists(wish)) {
                obey(fault, Files.readString(wish).strip().equals("true"));
                Files.delete(wish);
                any = true;
            }
        }
        return any;
    }

    private void obey(Fault fault, boolean breaks) throws InterruptedException {
        if (!breaks && fault.mend().isEmpty()) {
            return;
        }
        try {
            (breaks ? fault.breaking() : fault.mend().get()).carryOut();
            said.remove(fault.id());
            at.put(fault.id(), Instant.now().truncatedTo(ChronoUnit.SECONDS));
            if (breaks && fault.mend().isPresent()) {
                broken.add(fault.id());
            } else {
                broken.remove(fault.id());
            }
        } catch (InterruptedException e) {
            throw e;
        } catch (Exception e) {
            said.put(fault.id(), String.valueOf(e.getMessage()));
        }
    }

    /** Says how things stand. */
    void tell(Map<String, Pier.Truth> truth) throws IOException {
        ObjectNode out = Json.MAPPER.createObjectNode();
        for (Fault fault : faults) {
            ObjectNode line = out.withArray("faults")
                    .addObject()
                    .put("id", fault.id())
                    .put("title", fault.title())
                    .put("shows", fault.shows())
                    .put("once", fault.mend().isEmpty())
                    .put("broken", broken.contains(fault.id()))
                    .put("said", said.getOrDefault(fault.id(), ""));
            Instant when = at.get(fault.id());
            line.put("at", when == null ? null : when.toString());
        }
        truth.forEach((database, is) -> out.withArray("truth")
                .addObject()
                .put("database", database)
                .put("rows", is.rows())
                .put("committed", is.committed().map(Instant::toString).orElse(null))
                .put("said", is.said()));
        Path beside = directory.resolve("state.new");
        Files.writeString(beside, Json.MAPPER.writeValueAsString(out));
        Files.move(beside, directory.resolve("state.json"), StandardCopyOption.ATOMIC_MOVE);
    }
}
