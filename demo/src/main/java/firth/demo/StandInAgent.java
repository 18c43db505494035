package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.GeneralSecurityException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Stands in for the agent of one store: takes approved batches from Firth, deletes files, tells what became of them, and lists what
 * lies there when asked. {@code StandInAgent URL STORE-DIRECTORY}. Its mood, in mood.properties of the directory, may make it
 * {@code fail} every nth item, be {@code slow} by so many milliseconds an item, {@code lie} (tell and not delete) or {@code die} after
 * so many items.
 */
public final class StandInAgent {

    static final Duration ASKS = Duration.ofSeconds(2);

    private static final Duration ASKS_FOR_SHEETS = Duration.ofSeconds(30);
    private static final String SHEETS = "recovery-sheets";
    private static final String MOOD = "mood.properties";
    private static final String INTENTS = "intents.log";

    private final Firth firth;
    private final Path home;
    private final String store;
    private final FilesOfStore files;
    private final Clock clock;
    private Instant sheetsAsked = Instant.EPOCH;
    private String newestSheet = "";
    private int done;

    StandInAgent(Firth firth, Path home) {
        this(firth, home, Clock.systemUTC());
    }

    StandInAgent(Firth firth, Path home, Clock clock) {
        this.clock = clock;
        this.firth = firth;
        this.home = home;
        this.store = home.getFileName().toString();
        this.files = new FilesOfStore(home);
    }

    static StandInAgent at(URI address, Path home) {
        String store = home.getFileName().toString();
        return new StandInAgent(new Firth(address, Token.ofAgent(address, home, store)), home);
    }

    public static void main(String[] args) throws IOException, InterruptedException {
        if (args.length != 2) {
            System.err.println("usage: StandInAgent URL STORE-DIRECTORY");
            System.exit(2);
        }
        StandInAgent agent = at(URI.create(args[0]), Path.of(args[1]));
        while (true) {
            agent.work();
            Thread.sleep(ASKS.toMillis() / 4);
        }
    }

    /** Asks and works once; a Firth that dies meanwhile is asked again later. */
    void work() throws InterruptedException {
        try {
            tick();
        } catch (IOException e) {
            System.err.println("stand-in agent: " + e.getMessage());
        }
    }

    /** Asks for work and does it; false where Firth does not answer. */
    boolean tick() throws IOException, InterruptedException {
        Optional<JsonNode> work = firth.agentWork(store, ASKS.toString());
        if (work.isEmpty()) {
            return false;
        }
        while (!work.get().path("batches").isEmpty()) {
            for (JsonNode batch : work.get().path("batches")) {
                carryOut(batch);
            }
            work = firth.agentWork(store, ASKS.toString());
            if (work.isEmpty()) {
                return false;
            }
        }
        String stocktake = work.get().path("stocktake").asText("");
        if (!stocktake.isEmpty() && !stocktake.equals("null") && files.areLaid()) {
            Path listing = home.resolve("listing.ndjson");
            files.list(listing);
            firth.listed(store, stocktake, listing);
        }
        if (Instant.now().isAfter(sheetsAsked.plus(ASKS_FOR_SHEETS))) {
            sheetsAsked = Instant.now();
            laySheets();
        }
        return true;
    }

    /** Lays newer recovery sheets beside the backups; they come a few at a time, and no answer but a newer one is asked after. */
    private void laySheets() throws IOException, InterruptedException {
        String before;
        do {
            before = newestSheet;
            for (JsonNode sheet : firth.sheets(store, newestSheet).orElse(Json.MAPPER.createArrayNode())) {
                lay(sheet);
            }
        } while (!newestSheet.equals(before));
    }

    private void lay(JsonNode sheet) throws IOException {
        Path beside = Files.createDirectories(home.resolve(SHEETS));
        String name = sheet.path("name").asText().replaceAll("[^A-Za-z0-9._-]", "_");
        Files.writeString(beside.resolve(name + ".html"), sheet.path("html").asText());
        Files.writeString(beside.resolve(name + ".txt"), sheet.path("text").asText());
        newestSheet = sheet.path("at").asText();
    }

    private void carryOut(JsonNode batch) throws IOException, InterruptedException {
        if (!isSigned(batch)) {
            System.err.println(
                    "stand-in agent: a batch of " + batch.path("purge").asText() + " is not signed by Firth");
            return;
        }
        Instant expires = Instant.parse(batch.path("expires").asText());
        Properties mood = Harbour.read(home.resolve(MOOD));
        ObjectNode told = Json.MAPPER
                .createObjectNode()
                .put("purge", batch.path("purge").asText())
                .put("hash", batch.path("hash").asText());
        ArrayNode items = told.putArray("items");
        Set<String> intended = intended();
        for (JsonNode item : batch.path("items")) {
            Thread.sleep(Long.parseLong(mood.getProperty("slow", "0")));
            ObjectNode out = items.addObject().put("item", item.path("item").asInt());
            done++;
            if (done == Integer.parseInt(mood.getProperty("die", "-1"))) {
                Runtime.getRuntime().halt(9);
            }
            int fails = Integer.parseInt(mood.getProperty("fail", "0"));
            if (fails > 0 && done % fails == 0) {
                out.put("outcome", "failed").put("text", "the disk did not answer");
            } else if (mood.containsKey("lie")) {
                out.put("outcome", "deleted").put("freed", item.path("bytes").asDouble());
            } else {
                delete(batch.path("purge").asText(), item, expires, intended, out);
            }
        }
        firth.toldItems(store, told.toString());
    }

    private void delete(String purge, JsonNode item, Instant expires, Set<String> intended, ObjectNode out) {
        String path = item.path("path").asText();
        String intent = purge + " " + item.path("item").asInt() + " " + path;
        try {
            Path file = files.at(path);
            Optional<String> flaw = files.flaw(
                    file, item.path("bytes").asLong(), item.path("checksum").asText());
            if (!clock.instant().isBefore(expires)) {
                out.put("outcome", "failed").put("text", "the batch had expired");
            } else if (!Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
                // What this agent itself was about to delete when it died is not missing.
                out.put("outcome", intended.contains(intent) ? "deleted" : "missing");
            } else if (files.isLocked(path, Instant.now())) {
                out.put("outcome", "locked")
                        .put("text", "locked until " + files.locks().getProperty(path));
            } else if (flaw.isPresent()) {
                out.put("outcome", "failed").put("text", flaw.get());
            } else {
                long size = Files.size(file);
                intend(intent);
                files.remove(path);
                out.put("outcome", "deleted").put("freed", size);
            }
        } catch (IOException e) {
            out.put("outcome", "failed").put("text", e.getMessage());
        }
    }

    private Set<String> intended() throws IOException {
        Path file = home.resolve(INTENTS);
        return Files.exists(file) ? new HashSet<>(Files.readAllLines(file)) : Set.of();
    }

    private void intend(String intent) throws IOException {
        Files.write(
                home.resolve(INTENTS),
                List.of(intent),
                StandardOpenOption.CREATE,
                StandardOpenOption.APPEND,
                StandardOpenOption.SYNC);
    }

    /** Whether Firth, which alone knows what becomes of this agent's token, made the batch as it is. */
    private boolean isSigned(JsonNode batch) throws IOException, InterruptedException {
        StringBuilder text = new StringBuilder(batch.path("purge").asText() + "\n"
                + batch.path("hash").asText() + "\n" + batch.path("expires").asText());
        for (JsonNode item : batch.path("items")) {
            text.append('\n').append(item.path("item").asInt());
            text.append('\n').append(item.path("path").asText());
            text.append('\n').append(item.path("bytes").asLong());
            text.append('\n').append(item.path("checksum").asText());
        }
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(firth.key().getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
            return HexFormat.of()
                    .formatHex(mac.doFinal(text.toString().getBytes(StandardCharsets.UTF_8)))
                    .equals(batch.path("signature").asText());
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("Every Java has HmacSHA256", e);
        }
    }
}
