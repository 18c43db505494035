package firth.engines.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.engines.AgeKey;
import firth.engines.Recipe;
import firth.engines.Recipe.Ask;
import firth.engines.Recipe.Part;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PostgresRecipeTest {

    private static final String SEGMENT = "000000020000000000000007";
    private static final Instant MOMENT = Instant.parse("2026-11-30T10:00:00.25Z");

    /** A name with all that means something to a shell. */
    private static final String NASTY = "b'a\"s$e `touch no` $(touch no)\n;touch no #*?";

    @TempDir
    Path directory;

    private static Ask ask(
            Optional<Instant> moment, Optional<Instant> lastCommit, OptionalLong before, String lineage, String log) {
        return new Ask(
                NASTY,
                moment,
                lastCommit,
                before,
                lineage,
                List.of(new Part(Kind.FULL, "s;touch no", NASTY + "/one")),
                log.isEmpty() ? List.of() : List.of(new Part(Kind.LOG, "s;touch no", NASTY + "/" + log)),
                Optional.empty());
    }

    private static List<String> settings(Ask ask) {
        return new PostgresRecipe()
                .recipe(ask)
                .orElseThrow()
                .script()
                .lines()
                .filter(l -> l.startsWith("recovery_target"))
                .toList();
    }

    private static String last(Ask ask) {
        List<String> all = settings(ask);
        return all.get(all.size() - 1);
    }

    @Test
    void theTargetIsTheMomentWhereSomethingLaterIsInTheLogs() {
        Optional<Instant> later = Optional.of(MOMENT.plusMillis(1));
        Ask asked = ask(Optional.of(MOMENT), later, OptionalLong.empty(), "2", SEGMENT);
        assertEquals("recovery_target_time = '2026-11-30 10:00:00.250000+00'", last(asked));
        assertTrue(settings(asked).contains("recovery_target_timeline = '2'"));
        assertTrue(
                settings(asked).contains("recovery_target_lsn = ''"),
                "whatever an earlier restore left does not count");
    }

    @Test
    void withoutAnythingLaterThereIsNone() {
        Ask asked = ask(Optional.of(MOMENT), Optional.of(MOMENT), OptionalLong.empty(), "2", SEGMENT);
        assertEquals("recovery_target_action = 'promote'", last(asked));
        assertEquals(
                "recovery_target_action = 'promote'",
                last(ask(Optional.empty(), Optional.of(MOMENT), OptionalLong.empty(), "2", SEGMENT)));
        assertEquals(
                "recovery_target = 'immediate'",
                last(ask(Optional.of(MOMENT), Optional.empty(), OptionalLong.empty(), "2", "")));
    }

    @Test
    void whereALineageLeftItStopsInFrontOfThatPosition() {
        Ask asked = ask(Optional.of(MOMENT), Optional.empty(), OptionalLong.of(0x7000100L), "2", SEGMENT);
        assertEquals("recovery_target_lsn = '0/7000100'", last(asked));
        assertTrue(settings(asked).contains("recovery_target_inclusive = off"));
    }

    @Test
    void whatIsNotThisEnginesHasNoRecipe() {
        assertTrue(new PostgresRecipe()
                .recipe(ask(Optional.empty(), Optional.empty(), OptionalLong.empty(), "main", SEGMENT))
                .isEmpty());
        assertTrue(new PostgresRecipe()
                .recipe(ask(Optional.empty(), Optional.empty(), OptionalLong.empty(), "2", "log-1.gz"))
                .isEmpty());
    }

    @Test
    void ofALogThatHasGrownSinceItIsLaidWhatThePlanKnewOf() throws IOException, InterruptedException {
        Path store = Files.createDirectories(directory.resolve("store"));
        Files.createDirectories(store.resolve("one"));
        Files.writeString(store.resolve(SEGMENT + ".partial"), "0123456789abcdef");
        Path script = directory.resolve("restore.sh");
        Ask asked = new Ask(
                "harbour",
                Optional.of(MOMENT),
                Optional.of(MOMENT),
                OptionalLong.empty(),
                "2",
                List.of(new Part(Kind.FULL, "near", "one")),
                List.of(new Part(Kind.LOG, "near", SEGMENT + ".partial", OptionalLong.of(7 * 16 + 10))),
                Optional.empty());
        Files.writeString(
                script, new PostgresRecipe().recipe(asked).orElseThrow().script());
        Path fresh = directory.resolve("new");
        assertEquals(0, run(script, store, fresh));
        assertEquals(
                "0123456789\0\0\0\0\0\0",
                Files.readString(fresh.resolve("restore_logs").resolve(SEGMENT)));
        // It has become whole meanwhile.
        Files.move(store.resolve(SEGMENT + ".partial"), store.resolve(SEGMENT));
        Path other = directory.resolve("other");
        assertEquals(0, run(script, store, other));
        assertEquals(
                "0123456789\0\0\0\0\0\0",
                Files.readString(other.resolve("restore_logs").resolve(SEGMENT)));
    }

    @Test
    void anyNameIsTakenAsItStands() throws IOException, InterruptedException {
        Path store = Files.createDirectories(directory.resolve("store"));
        Path base = Files.createDirectories(store.resolve(NASTY).resolve("one"));
        Files.writeString(base.resolve("PG_VERSION"), "15\n");
        Files.writeString(store.resolve(NASTY).resolve(SEGMENT), "log");
        Files.writeString(store.resolve(NASTY).resolve("00000002.history"), "1\t0/5000000\tno recovery target\n");
        Ask asked = ask(Optional.of(MOMENT), Optional.empty(), OptionalLong.empty(), "2", SEGMENT);
        Recipe recipe = new PostgresRecipe().recipe(asked).orElseThrow();
        Path script = directory.resolve("restore.sh");
        Files.writeString(script, recipe.script());
        Path fresh = directory.resolve("new 'place'");
        assertEquals(0, run(script, store, fresh));
        assertEquals("15\n", Files.readString(fresh.resolve("PG_VERSION")));
        assertEquals("log", Files.readString(fresh.resolve("restore_logs").resolve(SEGMENT)));
        assertTrue(Files.exists(fresh.resolve("restore_logs/00000002.history")));
        assertTrue(Files.exists(fresh.resolve("recovery.signal")));
        assertFalse(
                Files.exists(directory.resolve("no")) || Files.exists(store.resolve("no")),
                "nothing of a name was run");
        assertNotEquals(0, run(script, store, fresh), "a place that is not empty is refused");
    }

    /** No server here has the program; a stand-in says what it was given. */
    @Test
    void incrementalsArePutTogetherByTheEnginesProgram() throws Exception {
        Path store = Files.createDirectories(directory.resolve("store"));
        Path key = AgeKey.write(directory.resolve("key"));
        for (String name : List.of("one", "two", "three")) {
            Files.createDirectories(store.resolve(name));
            Files.writeString(store.resolve(name).resolve("PG_VERSION"), name);
        }
        // One of them as a set of archives that are encrypted.
        Path two = store.resolve("two");
        sh("cd '" + two + "' && tar -cf - PG_VERSION | zstd -qc | age -e -i " + key + " -o base.tar.zst.age"
                + " && echo manifest | age -e -i " + key + " -o backup_manifest.age && rm PG_VERSION");
        Path bin = Files.createDirectories(directory.resolve("bin"));
        Files.writeString(bin.resolve("pg_combinebackup"), """
                #!/bin/sh
                mkdir "$2"
                shift 2
                for p in "$@"; do cat "$p/PG_VERSION"; echo; done
                cat "$2/backup_manifest"
                """);
        sh("chmod +x '" + bin + "/pg_combinebackup'");
        Ask asked = new Ask(
                "harbour",
                Optional.of(MOMENT),
                Optional.empty(),
                OptionalLong.empty(),
                "1",
                List.of(
                        new Part(Kind.FULL, "near", "one"),
                        new Part(Kind.INCR, "near", "two"),
                        new Part(Kind.INCR, "near", "three")),
                List.of(),
                Optional.empty());
        Path script = directory.resolve("restore.sh");
        Files.writeString(
                script, new PostgresRecipe().recipe(asked).orElseThrow().script());
        Path fresh = directory.resolve("fresh");
        sh("PATH='" + bin + "':$PATH KEYS=" + key + " STORE_1='" + store + "' sh " + script + " " + fresh
                + " >said 2>&1");
        List<String> said = Files.readAllLines(directory.resolve("said"));
        assertEquals(List.of("one", "two", "three", "manifest"), said.subList(0, 4));
        assertTrue(Files.exists(fresh.resolve("recovery.signal")));
        assertTrue(Files.notExists(directory.resolve("fresh.part_2")), "what was laid out for it is gone");
    }

    private void sh(String command) throws IOException, InterruptedException {
        Process process = new ProcessBuilder("sh", "-c", command)
                .directory(directory.toFile())
                .inheritIO()
                .start();
        assertEquals(0, process.waitFor(), command);
    }

    private int run(Path script, Path store, Path fresh) throws IOException, InterruptedException {
        ProcessBuilder builder = new ProcessBuilder("sh", script.toString(), fresh.toString())
                .directory(directory.toFile())
                .redirectErrorStream(true)
                .redirectOutput(directory.resolve("said").toFile());
        builder.environment().put("STORE_1", store.toString());
        return builder.start().waitFor();
    }
}
