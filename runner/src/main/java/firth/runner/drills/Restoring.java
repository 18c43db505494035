package firth.runner.drills;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import firth.runner.StoreDirectory;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Consumer;

/**
 * A restore somebody began, carried out: the plan's script into a directory that stays, the engine over it until it is open and was
 * proved, then stopped in order. What came of it stays on the disk until Firth has it.
 */
final class Restoring {

    private final HostCommand.Host host;
    private final Order order;
    private final Clock clock;
    private final Consumer<String> says;
    private final Path noted;
    private final Path work;
    private volatile boolean stopping;

    /**
     * What was asked for.
     *
     * @param over the name of the database that is written over
     */
    record Order(String restore, Path into, Optional<String> over) {}

    Restoring(HostCommand.Host host, Order order, Clock clock, Consumer<String> says) throws IOException {
        this.host = host;
        this.order = order;
        this.clock = clock;
        this.says = says;
        Path state = Files.createDirectories(host.settings().state());
        this.noted = state.resolve("restore.json");
        this.work = host.drilling().directory().resolve("firth-restore");
    }

    /**
     * Does it, or tells of it what was not told yet.
     *
     * @return whether it is open and was proved
     */
    boolean carryOut() throws Untried, IOException, InterruptedException, FirthLink.Refused {
        Remains.remove(work);
        JsonNode note = Files.exists(noted) ? Json.MAPPER.readTree(Files.readString(noted)) : Json.MAPPER.nullNode();
        if (note.has("course")) {
            tellOf(note);
            if (note.path("restore").asText().equals(order.restore())) {
                return ended(note.path("course"));
            }
        }
        JsonNode begun = firth().ask(firth().request(
                        "/api/restore/begun/" + FirthLink.encoded(order.restore()) + "/checklist.json"));
        Plan plan = Plan.of(begun, host.settings());
        Instant moment = possible(begun);
        Path parent = Optional.ofNullable(order.into().getParent())
                .filter(Files::isDirectory)
                .orElseThrow(() -> new Untried("there is no directory that " + order.into() + " could be in"));
        plan.fits(parent, Long.MAX_VALUE);
        Files.createDirectory(work, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
        try (Scratch scratch =
                Scratch.of(plan.engine(), new Scratch.Place(work, order.into(), true), host.drilling())) {
            scratch.areThere();
            Course course =
                    course(Course.begun(host.settings().host(), order.into().toString()));
            boolean over = begun.path("kept").path("over").asBoolean();
            mayLie(note, over);
            course.begin("ready");
            // Nobody else carries it out from here on.
            course.tell();
            course.begin("instance");
            makeRoom(note);
            note(Optional.empty());
            carryOut(plan, scratch, course, new Asked(moment, begun));
            note(Optional.of(course.all()));
            tellOf(Json.MAPPER.readTree(Files.readString(noted)));
            return ended(course.all());
        } finally {
            Remains.remove(work);
        }
    }

    private record Asked(Instant moment, JsonNode begun) {

        String database() {
            return begun.path("kept").path("plan").path("database").asText();
        }

        String stream() {
            return begun.path("kept").path("plan").path("streams").path(0).asText();
        }

        int logs() {
            return begun.path("logs").size();
        }
    }

    private FirthLink firth() {
        return host.firth();
    }

    private Course course(ObjectNode all) {
        return new Course(firth(), order.restore(), all, clock, says);
    }

    /** That it may be carried out by this program at all; gives the moment it is to reach. */
    private Instant possible(JsonNode begun) throws Untried {
        JsonNode kept = begun.path("kept");
        if (kept.hasNonNull("ended")) {
            throw new Untried("it has ended already");
        }
        if (!kept.path("plan").hasNonNull("target")) {
            throw new Untried("it goes to positions, and this program proves moments alone");
        }
        boolean over = kept.path("over").asBoolean();
        if (over && !order.over().equals(Optional.of(kept.path("name").asText()))) {
            throw new Untried("it goes over the old database: say --over and its name");
        }
        if (!over && order.over().isPresent()) {
            throw new Untried("it was begun beside the old database: begin it over the old one, or leave --over out");
        }
        return Instant.parse(kept.path("plan").path("target").asText());
    }

    /** Whether an earlier try of this restore left what lies there. */
    private boolean isOurs(JsonNode note) {
        return note.path("restore").asText().equals(order.restore())
                && note.path("into").asText().equals(order.into().toString());
    }

    /** Nothing is removed or set aside that somebody uses, and nothing set aside unless that was asked for. */
    private void mayLie(JsonNode note, boolean over) throws IOException, Untried {
        Path into = order.into();
        if (isEmpty(into)) {
            return;
        }
        if (!over && !isOurs(note)) {
            throw new Untried(into + " is not empty");
        }
        // What an earlier try had running there was ended.
        List<Long> users = Remains.using(into);
        boolean served = !isOurs(note) && Files.exists(into.resolve("postmaster.pid"));
        if (!users.isEmpty() || served) {
            throw new Untried("something runs over " + into + " still" + (users.isEmpty() ? "" : ", process " + users)
                    + ": stop it first");
        }
    }

    private static boolean isEmpty(Path directory) throws IOException {
        if (Files.notExists(directory)) {
            return true;
        }
        try (var inside = Files.list(directory)) {
            return inside.findAny().isEmpty();
        }
    }

    /** Whatever lies there is set aside; what an earlier try of this restore left is removed. */
    private void makeRoom(JsonNode note) throws IOException {
        Path into = order.into();
        if (isOurs(note)) {
            StoreDirectory.remove(into);
            StoreDirectory.remove(into.resolveSibling(into.getFileName() + ".ready"));
        } else if (isEmpty(into)) {
            Files.deleteIfExists(into);
        } else {
            Path aside = into.resolveSibling(into.getFileName() + ".before-" + order.restore());
            Files.move(into, aside);
            says.accept("what lay in " + into + " lies in " + aside + " now");
        }
    }

    private void carryOut(Plan plan, Scratch scratch, Course course, Asked asked)
            throws IOException, InterruptedException {
        try (Sampling sampling = new Sampling(course, plan, scratch, order.into(), asked.logs())) {
            course.begin("files");
            sampling.files();
            PlanScript script = PlanScript.of(plan, work, order.into(), scratch, OptionalLong.empty());
            script.again(List.of());
            sampling.logs();
            course.begin("logs");
            scratch.open(script);
            sampling.stop();
            course.begin("open");
            course.put("opened", course.now().toString());
            Proof.of(
                    scratch,
                    asked.moment(),
                    host.drilling().queries().getOrDefault(asked.database(), List.of()),
                    course::found);
            scratch.forkedAt().ifPresent(p -> course.forked(asked.stream(), p));
            scratch.leave();
            course.put("reached", asked.moment().toString());
            course.end();
        } catch (Untried e) {
            course.put("failed", String.valueOf(e.getMessage()));
        } catch (Trouble e) {
            String output = e.output().isBlank() ? "" : "\n" + e.output();
            course.put("failed", stopping ? "it was stopped before it was done" : e.why() + output);
        }
    }

    /** Ends what runs for it; the next try begins anew. */
    void stop() {
        stopping = true;
        Remains.end(work);
    }

    private boolean ended(JsonNode course) {
        if (course.has("failed")) {
            says.accept(order.restore() + " failed: " + course.path("failed").asText());
            says.accept("what it left lies in " + order.into() + "; the same command tries again");
            return false;
        }
        says.accept(order.restore() + " is done: the files are in " + order.into() + ", and no server runs over them");
        course.path("checks").forEach(c -> says.accept("  " + c.asText()));
        return true;
    }

    /** Of one that failed it stays known whose the remains are. */
    private void tellOf(JsonNode note) throws IOException, InterruptedException, FirthLink.Refused {
        ObjectNode course = (ObjectNode) note.path("course");
        try {
            new Course(firth(), note.path("restore").asText(), course, clock, says).tell();
        } catch (FirthLink.Refused e) {
            says.accept("what came of " + note.path("restore").asText() + " cannot be told: " + e.getMessage());
        }
        if (course.has("failed")) {
            write(((ObjectNode) note.deepCopy()).without("course"));
        } else {
            Files.delete(noted);
        }
    }

    private void note(Optional<ObjectNode> course) throws IOException {
        ObjectNode note = Json.MAPPER
                .createObjectNode()
                .put("restore", order.restore())
                .put("into", order.into().toString());
        course.ifPresent(c -> note.set("course", c));
        write(note);
    }

    private void write(JsonNode note) throws IOException {
        Path beside = noted.resolveSibling("restore.json.new");
        Files.writeString(beside, note.toString());
        Files.move(beside, noted, StandardCopyOption.ATOMIC_MOVE);
    }
}
