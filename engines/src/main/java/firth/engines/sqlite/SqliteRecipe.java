package firth.engines.sqlite;

import firth.engines.Packed;
import firth.engines.Recipe;
import firth.engines.Recipe.Ask;
import firth.engines.Recipe.Part;
import firth.engines.ScriptLines;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Restoring a file of SQLite: the copy, with the write-ahead log that was copied beside it. */
public final class SqliteRecipe implements Recipe.Maker {

    @Override
    public Optional<Recipe> recipe(Ask ask) {
        if (ask.chain().size() != 1 || !ask.logs().isEmpty()) {
            return Optional.empty();
        }
        Part copy = ask.chain().get(0);
        String file = Packed.nameWithin(copy.path().substring(copy.path().lastIndexOf('/') + 1));
        Part log = new Part(copy.kind(), copy.store(), copy.path() + "-wal");
        List<String> lines = new ArrayList<>();
        ScriptLines out = new ScriptLines("Restores " + ask.goal(), ask.parts());
        out.add("must_be_empty");
        out.add("mkdir -p \"$new\"");
        out.add("fetch " + out.place(copy) + " \"$new\"/" + Recipe.quoted(file));
        out.add("if [ -f " + out.place(log) + " ]; then");
        out.add("  cp " + out.place(log) + " \"$new\"/" + Recipe.quoted(file + "-wal"));
        out.add("fi");
        out.add("echo \"The file is in $new.\"");
        lines.add("Copy " + copy.path() + " of the store " + copy.store()
                + " to where the application looks for it, and the file of its name with -wal where there is one.");
        lines.add("Open it with sqlite3 and ask for PRAGMA integrity_check before the application does.");
        return Optional.of(new Recipe(out.toString(), out.stores(), lines));
    }
}
