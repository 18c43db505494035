package firth.engines.sqlite;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.model.Kind;
import firth.engines.Recipe;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SqliteRecipeTest {

    @TempDir
    private Path directory;

    private static Optional<Recipe> recipe(List<Recipe.Part> logs, String... paths) {
        List<Recipe.Part> chain = java.util.stream.Stream.of(paths)
                .map(p -> new Recipe.Part(Kind.FULL, "near", p))
                .toList();
        return new SqliteRecipe()
                .recipe(new Recipe.Ask(
                        "sheds",
                        Optional.empty(),
                        Optional.empty(),
                        OptionalLong.empty(),
                        "1",
                        chain,
                        logs,
                        Optional.empty()));
    }

    private int run(Recipe recipe) throws Exception {
        Path script = Files.writeString(directory.resolve("restore.sh"), recipe.script());
        ProcessBuilder shell = new ProcessBuilder(
                "sh", script.toString(), directory.resolve("new").toString());
        shell.environment().put("STORE_1", directory.toString());
        return shell.redirectOutput(ProcessBuilder.Redirect.DISCARD).start().waitFor();
    }

    @Test
    void theCopyIsLaidWithTheLogThatLiesBesideIt() throws Exception {
        Files.createDirectory(directory.resolve("it's"));
        Files.writeString(directory.resolve("it's/sheds 1.db"), "file");
        Recipe recipe = recipe(List.of(), "it's/sheds 1.db").orElseThrow();
        assertEquals(List.of("near"), recipe.stores());
        assertEquals(0, run(recipe));
        assertEquals("file", Files.readString(directory.resolve("new/sheds 1.db")));
        assertEquals(1, run(recipe), "nothing is written over");
        Files.writeString(directory.resolve("it's/sheds 1.db-wal"), "log");
        Files.delete(directory.resolve("new/sheds 1.db"));
        assertEquals(0, run(recipe));
        assertEquals("log", Files.readString(directory.resolve("new/sheds 1.db-wal")));
    }

    @Test
    void thereAreNoIncrementals() {
        assertEquals(Optional.empty(), recipe(List.of(), "a.db", "b.db"));
    }
}
