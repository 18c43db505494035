package firth.engines.mariadb;

import firth.engines.Packed;
import firth.engines.Recipe;
import firth.engines.Recipe.Ask;
import firth.engines.Recipe.Part;
import firth.engines.ScriptLines;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Restoring MariaDB from a physical backup, its incrementals and binary logs. The second part talks to the new server, so it is a step of
 * its own: {@code sh script DIR} makes the files ready, {@code sh script DIR replay [options of the client]} applies the logs once the
 * server runs on them.
 */
public final class MariadbRecipe implements Recipe.Maker {

    private static final int PLACE_BITS = 32;
    private static final long PLACE = 0xFFFFFFFFL;

    @Override
    public Optional<Recipe> recipe(Ask ask) {
        List<String> lines = new ArrayList<>();
        ScriptLines out = new ScriptLines("Restores " + ask.goal(), ask.parts());
        if (isDump(ask.chain().get(0))) {
            dump(ask.chain().get(0), out, lines);
        } else {
            files(ask, out, lines);
        }
        logs(ask, out, lines);
        return Optional.of(new Recipe(out.toString(), out.stores(), lines));
    }

    private static boolean isDump(Part full) {
        return Packed.nameWithin(full.path()).endsWith(".sql");
    }

    private static void dump(Part full, ScriptLines out, List<String> lines) {
        out.add("if [ \"${2:-files}\" = files ]; then");
        out.add(
                "  echo \"Start an empty server of the same version in $new, then read the dump into it: sh $0 $new replay\"");
        out.add("  exit 0");
        out.add("fi");
        lines.add("Start an empty server of the same version, and have the client read the dump " + full.path()
                + " of the store " + full.store() + ".");
    }

    private static void files(Ask ask, ScriptLines out, List<String> lines) {
        Part full = ask.chain().get(0);
        out.add("if [ \"${2:-files}\" = files ]; then");
        out.add("  must_be_empty");
        out.add("  ready=$new.ready");
        out.add("  rm -rf \"$ready\"");
        out.add("  mkdir -p \"$ready\" \"$new\"");
        out.add("  fetch_all " + out.place(full) + " \"$ready\"");
        out.add("  mariadb-backup --prepare --target-dir=\"$ready\"");
        lines.add("Copy the full " + full.path() + " of the store " + full.store()
                + " and run mariadb-backup --prepare on the copy.");
        for (Part incremental : ask.chain().subList(1, ask.chain().size())) {
            out.add("  rm -rf \"$ready.step\"");
            out.add("  mkdir \"$ready.step\"");
            out.add("  fetch_all " + out.place(incremental) + " \"$ready.step\"");
            out.add("  mariadb-backup --prepare --target-dir=\"$ready\" --incremental-dir=\"$ready.step\"");
            out.add("  rm -rf \"$ready.step\"");
            lines.add("Run mariadb-backup --prepare again with --incremental-dir for " + incremental.path()
                    + " of the store " + incremental.store() + ".");
        }
        out.add("  mariadb-backup --copy-back --target-dir=\"$ready\" --datadir=\"$new\"");
        out.add("  if [ -f \"$ready/backup-my.cnf\" ]; then cp \"$ready/backup-my.cnf\" \"$new\"/; fi");
        out.add("  rm -rf \"$ready\"");
        out.add("  echo \"The files are in $new. Start the server on them, then apply the logs: sh $0 $new replay\"");
        out.add("  exit 0");
        out.add("fi");
        lines.add(
                "Run mariadb-backup --copy-back into an empty data directory, and start the server on it, with the page size that backup-my.cnf says.");
    }

    /** It counts in the last log given; where that ends in front of the position, all of it is wanted. */
    private static String stopPosition(Ask ask) {
        Part last = ask.logs().get(ask.logs().size() - 1);
        String file = Packed.nameWithin(last.path());
        return ask.before().stream()
                .filter(p -> file.endsWith(String.format(Locale.ROOT, ".%06d", p >>> PLACE_BITS)))
                .mapToObj(p -> " --stop-position=" + (p & PLACE))
                .findFirst()
                .orElse("");
    }

    private static void logs(Ask ask, ScriptLines out, List<String> lines) {
        out.add("shift 2");
        out.add("logs=$(mktemp -d)");
        out.add("trap 'rm -rf \"$logs\"' EXIT");
        if (isDump(ask.chain().get(0))) {
            out.add("fetch " + out.place(ask.chain().get(0)) + " \"$logs/dump.sql\"");
            // Its changes are not those of the moment at which it is read back.
            out.add("{ echo 'SET sql_log_bin = 0;'; cat \"$logs/dump.sql\"; } | mariadb \"$@\"");
        }
        if (ask.logs().isEmpty()) {
            out.add("echo 'There are no logs to apply.'");
            return;
        }
        StringBuilder names = new StringBuilder();
        for (Part log : ask.logs()) {
            String file = Packed.nameWithin(log.path().substring(log.path().lastIndexOf('/') + 1));
            out.add("fetch " + out.place(log) + " \"$logs\"/" + Recipe.quoted(file));
            names.append(" \"$logs\"/").append(Recipe.quoted(file));
        }
        String start = ask.position()
                .map(p -> p.substring(p.lastIndexOf(':') + 1))
                .filter(p -> p.matches("\\d{1,10}"))
                .map(p -> " --start-position=" + p)
                .orElse("");
        // The program reads whole seconds, in its own zone.
        String stop = ask.moment()
                .map(t -> " --stop-datetime='" + Recipe.moment(t).substring(0, "2026-11-30 00:00:00".length()) + "'")
                .orElseGet(() -> stopPosition(ask));
        out.add("TZ=UTC mariadb-binlog" + start + stop + names + " >\"$logs/changes.sql\"");
        out.add("mariadb \"$@\" <\"$logs/changes.sql\"");
        lines.add("Apply the " + ask.logs().size() + " binary logs from "
                + ask.logs().get(0).path() + " on: TZ=UTC mariadb-binlog" + start + stop + " ... | mariadb.");
    }
}
