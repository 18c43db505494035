package firth.runner.drills;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.runner.Settings;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * One drill: a plan carried out in a directory of its own, what came of it asked of the engine, and all of it removed. A restore that
 * does not go, or gives something else than was asked for, is a drill that failed; what this host cannot try is none.
 */
final class Drill {

    private final Settings.Drilling drilling;
    private final String database;
    private final Instant moment;
    private final Plan plan;
    private final Clock clock;
    private final Path directory;
    private final Path files;
    private final List<String> checks = new ArrayList<>();

    private Instant begun = Instant.EPOCH;
    private Optional<Instant> opened = Optional.empty();

    Drill(Settings.Drilling drilling, Path directory, String database, Instant moment, Plan plan, Clock clock) {
        this.drilling = drilling;
        this.directory = directory;
        this.database = database;
        this.moment = moment;
        this.plan = plan;
        this.clock = clock;
        this.files = directory.resolve("files");
    }

    /**
     * Carries it out; the directory is gone afterwards.
     *
     * @return what is told of it
     */
    ObjectNode carryOut(String host) throws Untried, IOException, InterruptedException {
        plan.fits(drilling.directory(), drilling.room());
        Remains.remove(directory);
        // Whoever reaches the engine there is its master.
        Files.createDirectory(
                directory, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
        try (Scratch scratch = Scratch.of(plan.engine(), new Scratch.Place(directory, files, false), drilling)) {
            scratch.areThere();
            begun = now();
            try {
                restore(scratch);
                Proof.of(scratch, moment, drilling.queries().getOrDefault(database, List.of()), checks::add);
                return result(true, "Restored and proved on " + host + ".");
            } catch (Trouble e) {
                String output = e.output().isBlank() ? "" : "\n" + e.output();
                return result(false, "On " + host + ": " + e.why() + output);
            }
        } finally {
            Remains.remove(directory);
        }
    }

    private Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    private void restore(Scratch scratch) throws Trouble, Untried, IOException, InterruptedException {
        PlanScript run = PlanScript.of(plan, directory, files, scratch, drilling.rate());
        run.again(List.of());
        scratch.open(run);
        opened = Optional.of(now());
        checks.add("the engine opened it after "
                + Duration.between(begun, opened.get()).toSeconds() + " s");
    }

    private ObjectNode result(boolean ok, String message) {
        ObjectNode out = Json.MAPPER.createObjectNode();
        out.put("started", begun.toString());
        out.put("ended", opened.filter(o -> ok).orElseGet(this::now).toString());
        if (ok) {
            out.put("reached", moment.toString());
        }
        out.put("ok", ok);
        checks.forEach(out.withArray("checks")::add);
        return out.put("message", message);
    }
}
