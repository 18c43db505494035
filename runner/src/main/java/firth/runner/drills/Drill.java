package firth.runner.drills;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.runner.Program;
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
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

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
        plan.fits(drilling);
        Remains.remove(directory);
        // Whoever reaches the engine there is its master.
        Files.createDirectory(
                directory, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
        try (Scratch scratch = Scratch.of(plan.engine(), directory, files, drilling)
                .orElseThrow(() -> new Untried("this program knows no " + plan.engine()))) {
            for (String program : scratch.programs()) {
                if (!Program.isThere(program)) {
                    throw new Untried(program + " is not installed here; drills.programs says where else it may be");
                }
            }
            begun = now();
            try {
                restore(scratch);
                prove(scratch);
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
        Path script = Files.writeString(directory.resolve("restore.sh"), plan.script());
        ScriptRun run = new ScriptRun(script, scratch);
        run.again(List.of());
        scratch.open(run);
        opened = Optional.of(now());
        checks.add("the engine opened it after "
                + Duration.between(begun, opened.get()).toSeconds() + " s");
    }

    /** The script of the plan, with what it is told of stores and programs. */
    private final class ScriptRun implements Scratch.Script {
        private final Path script;
        private final Scratch scratch;

        ScriptRun(Path script, Scratch scratch) {
            this.script = script;
            this.scratch = scratch;
        }

        @Override
        public void again(List<String> arguments) throws Trouble, InterruptedException {
            List<String> command = new ArrayList<>(List.of("sh", script.toString(), files.toString()));
            command.addAll(arguments);
            Map<String, String> environment = new TreeMap<>(plan.stores());
            environment.putAll(scratch.environment());
            Program.run(command, environment, line -> {});
        }
    }

    private void prove(Scratch scratch) throws Trouble, InterruptedException {
        Optional<Instant> last = scratch.lastChange();
        if (last.filter(l -> l.isAfter(moment)).isPresent()) {
            throw new Trouble("the engine went past the moment: its last change is of " + last.get());
        }
        last.ifPresent(l -> checks.add("by the engine its last change is of " + l + ", not after the moment"));
        checks.add(scratch.check());
        for (Settings.Query query : drilling.queries().getOrDefault(database, List.of())) {
            Optional<String> first = scratch.first(query.in(), query.sql());
            if (first.filter(v -> !v.matches("(?i)f|false|0|")).isEmpty()) {
                throw new Trouble(
                        "what its owner asks is not so: " + query.sql() + " gives " + first.orElse("nothing"));
            }
            checks.add(query.sql() + ": " + first.get());
        }
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
