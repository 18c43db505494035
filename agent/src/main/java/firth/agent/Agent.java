package firth.agent;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;

/** The agent of one store: asks Firth what to do, does it, and tells what became of it. */
public final class Agent {

    private static final Duration BETWEEN_SHEETS = Duration.ofSeconds(30);
    private static final Duration BETWEEN_ROOMS = Duration.ofMinutes(1);

    private final FirthLink firth;
    private final String path;
    private final Storage storage;
    private final Path state;
    private final Intents intents;
    private final Duration every;
    private final Clock clock;
    private final Consumer<String> says;
    private Instant sheetsAsked = Instant.EPOCH;
    private Instant roomTold = Instant.EPOCH;
    private String newestSheet = "";
    private String trouble = "";

    /**
     * @param store the id of the store
     * @param state a directory of its own, outside of the store
     * @param every how often it asks
     * @param says takes what whoever started it should read
     */
    public Agent(
            FirthLink firth,
            String store,
            Storage storage,
            Path state,
            Duration every,
            Clock clock,
            Consumer<String> says)
            throws IOException {
        this.firth = firth;
        this.path = "/api/agents/" + FirthLink.encoded(store);
        this.storage = storage;
        this.state = Files.createDirectories(state);
        this.intents = new Intents(state.resolve("intents.ndjson"));
        this.every = every;
        this.clock = clock;
        this.says = says;
    }

    /** Asks and works for as long as nobody interrupts it. A Firth that is away is asked again later. */
    public void run() throws InterruptedException {
        while (!Thread.currentThread().isInterrupted()) {
            work();
            Thread.sleep(every.toMillis());
        }
    }

    /** Asks and works once; what does not go is told, and tried again the next time. */
    public void work() throws InterruptedException {
        try {
            tick();
        } catch (IOException | FirthLink.Refused e) {
            say(String.valueOf(e.getMessage()));
        }
    }

    private void say(String what) {
        if (!what.equals(trouble)) {
            trouble = what;
            says.accept(what);
        }
    }

    /** Asks for work and does it. */
    void tick() throws IOException, InterruptedException, FirthLink.Refused {
        storage.recover(intents);
        JsonNode work = ask();
        while (!work.path("batches").isEmpty()) {
            int done = 0;
            for (JsonNode batch : work.path("batches")) {
                done += carryOut(batch);
            }
            if (done == 0) {
                break;
            }
            work = ask();
        }
        if (work.path("stocktake").isTextual()) {
            list(work.path("stocktake").asText(), work.path("sums").asBoolean());
        }
        Instant now = clock.instant();
        if (!now.isBefore(roomTold.plus(BETWEEN_ROOMS))) {
            tellRoom();
            roomTold = now;
        }
        if (!now.isBefore(sheetsAsked.plus(BETWEEN_SHEETS))) {
            laySheets();
            sheetsAsked = now;
        }
        trouble = "";
    }

    private JsonNode ask() throws IOException, InterruptedException, FirthLink.Refused {
        return firth.ask(firth.request(path + "/work?every=" + every).POST(BodyPublishers.noBody()));
    }

    /** Carries out a batch and tells of it; how many items were told of. */
    private int carryOut(JsonNode written) throws IOException, InterruptedException, FirthLink.Refused {
        Batch batch;
        try {
            batch = Batch.of(written);
        } catch (DateTimeException e) {
            say("a batch does not say until when it is good: nothing of it is deleted");
            return 0;
        }
        if (!batch.isSignedWith(firth.key())) {
            say("a batch of " + batch.purge() + " is not signed by Firth: nothing of it is deleted");
            return 0;
        }
        ObjectNode told =
                Json.MAPPER.createObjectNode().put("purge", batch.purge()).put("hash", batch.hash());
        ArrayNode items = told.putArray("items");
        List<String> deeds = new ArrayList<>();
        for (Batch.Item item : batch.items()) {
            String deed = batch.deed(item);
            Storage.Outcome outcome = clock.instant().isBefore(batch.expires())
                    ? delete(new Storage.Doomed(deed, item.path(), item.bytes(), item.checksum()))
                    : Storage.Outcome.failed("the batch had expired");
            ObjectNode out = items.addObject()
                    .put("item", item.item())
                    .put("outcome", outcome.word().name().toLowerCase(Locale.ROOT))
                    .put("text", outcome.text());
            if (outcome.word() == Storage.Outcome.Word.DELETED) {
                out.put("freed", outcome.freed());
            }
            deeds.add(deed);
        }
        firth.ask(json(firth.request(path + "/told"), told));
        intents.told(deeds);
        return deeds.size();
    }

    private Storage.Outcome delete(Storage.Doomed what) throws InterruptedException {
        try {
            return storage.delete(what, intents);
        } catch (IOException e) {
            return Storage.Outcome.failed(String.valueOf(e.getMessage()));
        }
    }

    private static HttpRequest.Builder json(HttpRequest.Builder request, ObjectNode body) {
        return request.header("content-type", "application/json").POST(BodyPublishers.ofString(body.toString()));
    }

    private void list(String stocktake, boolean sums) throws IOException, InterruptedException, FirthLink.Refused {
        Instant begun = clock.instant();
        Path listing = state.resolve("listing.ndjson");
        try (BufferedWriter out = Files.newBufferedWriter(listing)) {
            storage.list(sums, entry -> {
                try {
                    out.write(line(entry).toString());
                    out.write('\n');
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            });
        } catch (UncheckedIOException e) {
            throw new IOException("the listing could not be written: " + e.getMessage(), e);
        }
        firth.ask(firth.request(path + "/listing?stocktake=" + FirthLink.encoded(stocktake) + "&taken=" + begun)
                .timeout(FirthLink.FOR_MUCH)
                .header("content-type", "application/x-ndjson")
                .POST(BodyPublishers.ofFile(listing)));
    }

    private static ObjectNode line(Storage.Entry entry) {
        ObjectNode line = Json.MAPPER.createObjectNode().put("path", entry.path());
        entry.size().ifPresent(size -> line.put("size", size));
        line.put("time", entry.time().toString());
        entry.checksum().ifPresent(sum -> line.put("checksum", sum));
        if (entry.lock().manner() != Lock.Manner.UNKNOWN) {
            line.put("lock", entry.lock().manner().word());
        }
        entry.lock().until().ifPresent(until -> line.put("lockedUntil", until.toString()));
        return line;
    }

    private void tellRoom() throws IOException, InterruptedException, FirthLink.Refused {
        Storage.Room room = storage.room();
        ObjectNode told = Json.MAPPER
                .createObjectNode()
                .put("freeBytes", room.freeBytes())
                .put("capacityBytes", room.capacityBytes())
                .put("locks", room.locks().word())
                .put("trouble", room.trouble());
        room.writable().ifPresent(writable -> told.put("writable", writable));
        firth.ask(json(firth.request(path + "/room"), told));
    }

    /** Lays newer recovery sheets beside the backups; they come a few at a time, and no answer but a newer one is asked after. */
    private void laySheets() throws IOException, InterruptedException, FirthLink.Refused {
        String before;
        do {
            before = newestSheet;
            for (JsonNode sheet : firth.ask(
                    firth.request(path + "/sheets?since=" + newestSheet).GET())) {
                String name = sheet.path("name").asText().replaceAll("[^A-Za-z0-9._-]", "_");
                storage.lay(name + ".html", sheet.path("html").asText());
                storage.lay(name + ".txt", sheet.path("text").asText());
                newestSheet = sheet.path("at").asText();
            }
        } while (!newestSheet.equals(before));
    }
}
