package firth.runner.drills;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import firth.runner.Settings;
import java.io.IOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** Drills one database after the other: those nobody proved first. What a drill came to stays on the disk until Firth has it. */
final class DrillHost {

    private static final int AT_ONCE = 500;

    /** Firth does not know the proposal, or gave it to somebody else: it will not take the result later, either. */
    private static final Set<Integer> NEVER = Set.of(403, 404);

    private final Settings settings;
    private final Settings.Drilling drilling;
    private final FirthLink firth;
    private final Clock clock;
    private final Consumer<String> says;
    private final Path noted;
    private volatile boolean stopping;
    private int failed;
    private int untried;

    /** @param says takes what whoever started it should read */
    DrillHost(Settings settings, Settings.Drilling drilling, FirthLink firth, Clock clock, Consumer<String> says)
            throws IOException {
        this.settings = settings;
        this.drilling = drilling;
        this.firth = firth;
        this.clock = clock;
        this.says = says;
        this.noted = Files.createDirectories(settings.state()).resolve("drill.json");
    }

    /**
     * Which databases.
     *
     * @param named those alone; empty: of the whole fleet
     * @param within those that were not proved for so long, beside those whose drill is due or failed last
     * @param times how many moments of each
     */
    record Wanted(List<String> named, Optional<Duration> within, int times) {}

    /** How many failed, and how many could not be tried. */
    record Ended(int failed, int untried) {}

    /** Drills all that are wanted, as long as the hours last. What an earlier one was cut off in comes first. */
    Ended drill(Wanted wanted) throws IOException, InterruptedException, FirthLink.Refused {
        goOn();
        List<String> chosen = chosen(wanted);
        for (int time = 0; time < wanted.times(); time++) {
            for (String database : chosen) {
                if (outOfHours()) {
                    return new Ended(failed, untried);
                }
                one(database);
            }
        }
        return new Ended(failed, untried);
    }

    private boolean outOfHours() {
        Instant now = clock.instant();
        Optional<Settings.Hours> closed = drilling.hours().filter(h -> !h.hold(now));
        closed.ifPresent(h -> says.accept("begins no drill now: its hours are " + h));
        return closed.isPresent();
    }

    private record Row(String database, Optional<Instant> proved, boolean due) {}

    private List<String> chosen(Wanted wanted) throws IOException, InterruptedException, FirthLink.Refused {
        if (!wanted.named().isEmpty() && wanted.within().isEmpty()) {
            return wanted.named();
        }
        List<Row> rows = new ArrayList<>();
        for (int from = 0, all = 1; from < all; from += AT_ONCE) {
            JsonNode answer = firth.ask(firth.request("/api/drills?from=" + from + "&most=" + AT_ONCE));
            all = answer.path("databases").asInt();
            for (JsonNode row : answer.path("rows")) {
                Optional<Instant> proved = row.hasNonNull("proved")
                        ? Optional.of(Instant.parse(row.path("proved").asText()))
                        : Optional.empty();
                String state = row.path("state").asText();
                rows.add(new Row(row.path("database").asText(), proved, state.equals("due") || state.equals("failed")));
            }
        }
        Instant now = clock.instant();
        return rows.stream()
                .filter(r -> wanted.named().isEmpty() || wanted.named().contains(r.database()))
                .filter(r -> r.due()
                        || wanted.within()
                                .filter(w -> r.proved()
                                        .filter(p -> p.isAfter(now.minus(w)))
                                        .isEmpty())
                                .isPresent())
                .sorted(Comparator.comparing((Row r) -> r.proved().orElse(Instant.MIN))
                        .thenComparing(Row::database))
                .map(Row::database)
                .toList();
    }

    /** Proposes a drill of a database and carries it out. */
    private void one(String database) throws IOException, InterruptedException, FirthLink.Refused {
        try {
            // A proposal nobody carries out would stand on the page for nothing.
            Plan.of(firth, database, Optional.empty(), settings).fits(drilling.directory(), drilling.room());
            JsonNode proposal;
            try {
                proposal = firth.ask(
                        post("/api/drills", Json.MAPPER.createObjectNode().put("database", database)));
            } catch (FirthLink.Refused e) {
                throw new Untried("Firth proposes none: " + e.getMessage());
            }
            note(proposal, Optional.empty());
            carryOut(proposal);
        } catch (Untried e) {
            untried(database, e);
        }
    }

    private void untried(String database, Untried why) throws IOException {
        untried++;
        says.accept(database + " is not drilled: " + why.getMessage());
        Files.deleteIfExists(noted);
    }

    private void carryOut(JsonNode proposal) throws Untried, IOException, InterruptedException, FirthLink.Refused {
        String database = proposal.path("database").asText();
        Instant moment = Instant.parse(proposal.path("moment").asText());
        Plan plan = Plan.of(firth, database, Optional.of(moment), settings);
        ObjectNode result = new Drill(drilling, scratch(), database, moment, plan, clock).carryOut(settings.host());
        if (stopping) {
            throw new InterruptedException("what was cut off says nothing of the copies");
        }
        note(proposal, Optional.of(result));
        tell(proposal, result);
    }

    /** Ends the engine of a drill that is under way; the next one goes on from there. */
    void stop() {
        stopping = true;
        Remains.end(scratch());
    }

    private Path scratch() {
        return drilling.directory().resolve("firth-drill");
    }

    private void tell(JsonNode proposal, JsonNode result) throws IOException, InterruptedException, FirthLink.Refused {
        String path = "/api/drills/" + FirthLink.encoded(proposal.path("id").asText()) + "/result";
        try {
            firth.ask(post(path, result));
        } catch (FirthLink.Refused e) {
            if (!NEVER.contains(e.status())) {
                throw e;
            }
            says.accept("what came of the drill of " + proposal.path("database").asText() + " cannot be told: "
                    + e.getMessage());
        }
        Files.delete(noted);
        boolean ok = result.path("ok").asBoolean();
        failed += ok ? 0 : 1;
        says.accept(proposal.path("database").asText() + " to "
                + proposal.path("moment").asText()
                + (ok ? ": proved" : ": failed. " + result.path("message").asText()));
        result.path("checks").forEach(c -> says.accept("  " + c.asText()));
    }

    private java.net.http.HttpRequest.Builder post(String path, JsonNode body) {
        return firth.request(path)
                .header("content-type", "application/json")
                .POST(BodyPublishers.ofString(body.toString()));
    }

    /** Whatever was cut off: what it came to is told, or it is done again. */
    private void goOn() throws IOException, InterruptedException, FirthLink.Refused {
        Remains.remove(scratch());
        if (Files.notExists(noted)) {
            return;
        }
        JsonNode note = Json.MAPPER.readTree(Files.readString(noted));
        JsonNode proposal = note.path("proposal");
        if (note.has("result")) {
            tell(proposal, note.path("result"));
        } else if (!outOfHours()) {
            try {
                carryOut(proposal);
            } catch (Untried e) {
                untried(proposal.path("database").asText(), e);
            }
        }
    }

    private void note(JsonNode proposal, Optional<ObjectNode> result) throws IOException {
        ObjectNode note = Json.MAPPER.createObjectNode();
        note.set("proposal", proposal);
        result.ifPresent(r -> note.set("result", r));
        Path beside = noted.resolveSibling("drill.json.new");
        Files.writeString(beside, note.toString());
        Files.move(beside, noted, StandardCopyOption.ATOMIC_MOVE);
    }
}
