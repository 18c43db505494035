package firth.engines.postgres;

import firth.core.model.Kind;
import firth.engines.Packed;
import firth.engines.Recipe;
import firth.engines.Recipe.Ask;
import firth.engines.Recipe.Part;
import firth.engines.ScriptLines;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeSet;

/**
 * Restoring PostgreSQL from a base backup and archived logs. The planned logs alone are laid beside the files, so that the engine can read
 * no others; it is told its timeline by number, for the latest need not be the one that leads to the target.
 */
public final class PostgresRecipe implements Recipe.Maker {

    /** Of a restored data directory: copies of the logs it is to replay. */
    public static final String LOGS = "restore_logs";

    /** Of a restored data directory: its tablespaces, each by its number. */
    public static final String TABLESPACES = "restored_tablespaces";

    private static final int NAME = 24;
    private static final List<String> TARGETS = List.of(
            "recovery_target",
            "recovery_target_time",
            "recovery_target_lsn",
            "recovery_target_name",
            "recovery_target_xid");

    @Override
    public Optional<Recipe> recipe(Ask ask) {
        boolean ours = ask.lineage().matches("[1-9]\\d{0,8}")
                && ask.logs().stream().allMatch(l -> SegmentName.parse(name(l)).isPresent());
        if (!ours) {
            return Optional.empty();
        }
        List<String> lines = new ArrayList<>();
        ScriptLines out = new ScriptLines("Restores " + ask.goal() + ", timeline " + ask.lineage(), ask.parts());
        files(ask, out, lines);
        logs(ask, out, lines);
        settings(ask, out, lines);
        out.add("echo \"The files are in $new. Start the server on them: it replays the logs and then opens.\"");
        lines.add("Start the server on the new directory; it is open when pg_is_in_recovery() is false.");
        return Optional.of(new Recipe(out.toString(), out.stores(), lines));
    }

    /** Lays out a base backup, be it a directory or a set of archives. */
    private static final String[] LAY_OUT =
            String.format(Locale.ROOT, """
            lay_out() { # from, to
              if [ -z "$(ls "$1"/base.tar* 2>/dev/null)" ]; then
                fetch_all "$1" "$2"
                return
              fi
              for t in "$1"/*.tar "$1"/*.tar.* "$1"/backup_manifest*; do
                case "${t##*/}" in
                  "*.tar" | "*.tar.*" | "backup_manifest*") ;;
                  backup_manifest*) fetch "$t" "$2/backup_manifest" ;;
                  base.tar*) unpack_tar "$t" "$2" ;;
                  pg_wal.tar*) unpack_tar "$t" "$2/pg_wal" ;;
                  *)
                    space=${t##*/}
                    unpack_tar "$t" "$2/%1$s/${space%%%%.*}"
                    ;;
                esac
              done
              # The engine makes its links by that file when it starts: they must not lead to where the old server has its own.
              if [ -d "$2/%1$s" ]; then
                for space in "$(cd "$2/%1$s" && pwd)"/*; do
                  echo "${space##*/} $space"
                done >"$2/tablespace_map"
              fi
            }
            unpack_tar() { # from, to
              mkdir -p "$2"
              fetch "$1" "$2/unpacked.tar"
              tar -xf "$2/unpacked.tar" -C "$2"
              rm "$2/unpacked.tar"
            }
            must_be_empty
            mkdir -p "$new"
            chmod 700 "$new"
            """, TABLESPACES).split("\n");

    /** A log that was still being written when this was planned may have grown: what came later is not part of the plan. */
    private static final String[] CUT_OFF = """
            cut_off() { # a segment, the position at which it ends
              size=$(($(wc -c <"$1")))
              end=$(($2 % size))
              if [ "$end" -gt 0 ]; then
                dd if=/dev/null of="$1" bs=1 seek="$end" 2>/dev/null
                dd if=/dev/zero of="$1" bs=1 seek=$((size - 1)) count=1 2>/dev/null
              fi
            }
            """.split("\n");

    private static void files(Ask ask, ScriptLines out, List<String> lines) {
        Part full = ask.chain().get(0);
        for (String line : LAY_OUT) {
            out.add(line);
        }
        if (ask.chain().size() > 1) {
            chain(ask, out, lines);
        } else {
            out.add("lay_out " + out.place(full) + " \"$new\"");
            lines.add("Copy the base backup " + full.path() + " of the store " + full.store()
                    + " to an empty directory of mode 700; unpack its tablespaces (NUMBER.tar), where it has any, each into a directory of its own,"
                    + " and name those in tablespace_map, a line \"NUMBER DIRECTORY\" each.");
        }
        out.add("rm -f \"$new/postmaster.pid\"");
        out.add("mkdir -p \"$new/pg_wal\"");
    }

    /** The engine's program reads directories alone: what is a set of archives, or encrypted, is laid out first. */
    private static void chain(Ask ask, ScriptLines out, List<String> lines) {
        StringBuilder chain = new StringBuilder();
        for (int i = 1; i <= ask.chain().size(); i++) {
            String part = "part_" + i;
            out.add(part + "=" + out.place(ask.chain().get(i - 1)));
            out.add("if [ -n \"$(ls \"$" + part + "\"/base.tar* 2>/dev/null)\" ]; then");
            out.add("  mkdir \"$new." + part + "\"");
            out.add("  lay_out \"$" + part + "\" \"$new." + part + "\"");
            out.add("  " + part + "=$new." + part);
            out.add("fi");
            chain.append(" \"$").append(part).append('"');
        }
        out.add("rmdir \"$new\"");
        out.add("pg_combinebackup -o \"$new\"" + chain);
        for (int i = 1; i <= ask.chain().size(); i++) {
            out.add("rm -rf \"$new.part_" + i + "\"");
        }
        lines.add(
                "Put the base backup and its incrementals together with pg_combinebackup; unpack those that are archives first.");
    }

    private static void logs(Ask ask, ScriptLines out, List<String> lines) {
        for (String line : CUT_OFF) {
            out.add(line);
        }
        out.add("rm -rf \"$new/" + LOGS + "\"");
        out.add("mkdir \"$new/" + LOGS + "\"");
        TreeSet<String> beside = new TreeSet<>();
        for (Part log : ask.logs()) {
            String name = name(log);
            String from = out.place(log);
            if (name.length() > NAME) {
                // It may have become whole since.
                out.add("log=" + from);
                out.add("[ -e \"$log\" ] || log=${log%.partial}");
                from = "\"$log\"";
            }
            String to = "\"$new/" + LOGS + "/" + name.substring(0, NAME) + "\"";
            out.add("fetch " + from + " " + to);
            if (name.length() > NAME && log.end().isPresent()) {
                out.add("cut_off " + to + " " + log.end().getAsLong());
            }
            int slash = log.path().lastIndexOf('/');
            beside.add(out.place(
                    new Part(Kind.LOG, log.store(), slash < 0 ? "." : log.path().substring(0, slash))));
        }
        for (String directory : beside) {
            out.add("for h in " + directory + "/*.history " + directory + "/*.history.*; do");
            out.add("  [ -f \"$h\" ] || continue");
            out.add("  n=${h##*/}");
            out.add("  fetch \"$h\" \"$new/" + LOGS + "/${n%%.*}.history\"");
            out.add("done");
        }
        if (!ask.logs().isEmpty()) {
            lines.add("Lay the " + ask.logs().size() + " logs from "
                    + name(ask.logs().get(0)) + " to "
                    + name(ask.logs().get(ask.logs().size() - 1))
                    + ", and the .history files beside them, in a directory of their own: no later ones.");
        }
    }

    private static String name(Part log) {
        String file = log.path().substring(log.path().lastIndexOf('/') + 1);
        return Packed.nameWithin(file);
    }

    private static void settings(Ask ask, ScriptLines out, List<String> lines) {
        List<String> settings = new ArrayList<>();
        settings.add("restore_command = 'cp \"" + LOGS + "/%f\" \"%p\"'");
        settings.add("recovery_target_timeline = '" + Integer.parseInt(ask.lineage()) + "'");
        // Whatever an earlier restore left in the files must not count. The engine takes the one that is set last
        // alone.
        Optional<String> target = target(ask);
        for (String none : TARGETS) {
            if (target.filter(t -> t.startsWith(none + " ")).isEmpty()) {
                settings.add(none + " = ''");
            }
        }
        settings.add("recovery_target_inclusive = " + (ask.before().isPresent() ? "off" : "on"));
        settings.add("recovery_target_action = 'promote'");
        target.ifPresent(settings::add);
        settings.add("archive_mode = off");
        out.add("cat >>\"$new/postgresql.auto.conf\" <<'SETTINGS'");
        settings.forEach(out::add);
        out.add("SETTINGS");
        out.add("rm -f \"$new/standby.signal\"");
        out.add(": >\"$new/recovery.signal\"");
        settings.forEach(s -> lines.add("Set " + s
                + (s.startsWith("archive_mode")
                        ? ", until it is decided that it takes the place of the old one: else it writes into that one's archive"
                        : "")));
        lines.add("Make an empty file recovery.signal.");
    }

    private static Optional<String> target(Ask ask) {
        if (ask.before().isPresent()) {
            return Optional.of("recovery_target_lsn = '" + Lsn.of(ask.before().getAsLong()) + "'");
        }
        if (ask.logs().isEmpty()) {
            return Optional.of("recovery_target = 'immediate'");
        }
        // Without a later commit to stop in front of, the engine would refuse to open.
        return ask.moment()
                .filter(m -> ask.lastCommit().filter(l -> !l.isAfter(m)).isEmpty())
                .map(m -> "recovery_target_time = '" + Recipe.moment(m) + "+00'");
    }
}
