package firth.engines.sqlite;

import firth.engines.Packed;
import firth.engines.Recipe;
import firth.engines.Recipe.Ask;
import firth.engines.Recipe.Part;
import firth.engines.ScriptLines;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Restoring a file of SQLite: the copy, with the write-ahead log that was copied beside it; or a copy whose log was kept, and the pieces of that
 * log up to the moment, which the engine moves into the file.
 */
public final class SqliteRecipe implements Recipe.Maker {

    private static final String[] APPLY = """
            apply() { # a piece of the log
              mkdir "$new.log"
              fetch_all "$1" "$new.log"
              frames=$(awk -v until="$until" '/^[0-9]+ [0-9]+$/ && (until == "" || $1 + 0 <= until + 0) { n = $2 } END { print n + 0 }' "$new.log/place")
              page=$(sed -n 's/^page=//p' "$new.log/place")
              if [ "$frames" -gt 0 ]; then
                head -c $((32 + frames * (24 + page))) "$new.log/wal" >"$database-wal"
                case "$(sqlite3 "$database" 'PRAGMA wal_checkpoint(TRUNCATE)')" in
                  0\\|*) ;;
                  *) echo "the log $1 could not be moved into $database" >&2; exit 1 ;;
                esac
                rm -f "$database-wal" "$database-shm"
              fi
              rm -rf "$new.log"
            }
            """.split("\n");

    @Override
    public Optional<Recipe> recipe(Ask ask) {
        if (ask.chain().size() != 1) {
            return Optional.empty();
        }
        Part copy = ask.chain().get(0);
        String file = Packed.nameWithin(copy.path().substring(copy.path().lastIndexOf('/') + 1));
        Part log = new Part(copy.kind(), copy.store(), copy.path() + "-wal");
        List<String> lines = new ArrayList<>();
        ScriptLines out = new ScriptLines("Restores " + ask.goal(), ask.parts());
        out.add("must_be_empty");
        out.add("mkdir -p \"$new\"");
        out.add("if [ -d " + out.place(copy) + " ]; then");
        out.add("  fetch_all " + out.place(copy) + " \"$new\"");
        out.add("  rm \"$new/place\"");
        out.add("else");
        out.add("  fetch " + out.place(copy) + " \"$new\"/" + Recipe.quoted(file));
        out.add("  if [ -f " + out.place(log) + " ]; then");
        out.add("    cp " + out.place(log) + " \"$new\"/" + Recipe.quoted(file + "-wal"));
        out.add("  fi");
        out.add("fi");
        lines.add(
                "Copy " + copy.path() + " of the store " + copy.store()
                        + " to where the application looks for it; where it is a directory, the file in it that ends in .db, else also the file of its name with -wal where there is one.");
        if (!ask.logs().isEmpty()) {
            logs(ask, out, lines);
        }
        out.add("echo \"The file is in $new.\"");
        lines.add("Open it with sqlite3 and ask for PRAGMA integrity_check before the application does.");
        return Optional.of(new Recipe(out.toString(), out.stores(), lines));
    }

    private static void logs(Ask ask, ScriptLines out, List<String> lines) {
        for (String line : APPLY) {
            out.add(line);
        }
        out.add("database=$(ls \"$new\"/*.db)");
        out.add("until="
                + ask.moment().map(m -> Long.toString(m.toEpochMilli())).orElse(""));
        ask.logs().forEach(l -> out.add("apply " + out.place(l)));
        lines.add("For each of the " + ask.logs().size() + " pieces of its log, from "
                + ask.logs().get(0).path()
                + " on: lay the file wal beside the database, called after it with -wal, and let sqlite3 move it there (PRAGMA wal_checkpoint(TRUNCATE))."
                + ask.moment()
                        .map(m -> " Of the last, only as many frames as its file place says there were at "
                                + m.toEpochMilli()
                                + " (milliseconds since 1970), each of a page and 24 bytes, behind the first 32.")
                        .orElse(""));
    }
}
