package firth.engines;

import firth.engines.Recipe.Part;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** A script for a POSIX shell as it grows line by line. */
public final class ScriptLines {

    /**
     * Reading from stores: decrypted with the file of keys KEYS and unpacked, as names say, and no faster than RATE bytes a second where that
     * is said.
     */
    private static final String[] FETCH = """
            spent=0
            pace() { # bytes that were read
              spent=$((spent + $1))
              while [ -n "${RATE:-}" ] && [ "$spent" -ge "$RATE" ]; do
                sleep 1
                spent=$((spent - RATE))
              done
            }
            read_from() {
              if [ -z "${RATE:-}" ]; then
                cat "$1"
                return
              fi
              pieces=$(($(wc -c <"$1") / RATE))
              piece=0
              while [ "$piece" -le "$pieces" ]; do
                dd if="$1" bs="$RATE" skip="$piece" count=1 iflag=fullblock status=none || return 1
                if [ "$piece" -lt "$pieces" ]; then sleep 1; fi
                piece=$((piece + 1))
              done
            }
            fetch() { # from, to
              case "$1" in
                *.age)
                  read_from "$1" | age --decrypt -i "${KEYS:?say in which file the keys are}" -o "$2.opened"
                  unpack "${1%.age}" "$2" <"$2.opened"
                  rm "$2.opened"
                  ;;
                *.gz | *.zst | *.lz4) read_from "$1" | unpack "$1" "$2" ;;
                *) read_from "$1" >"$2" ;;
              esac
              if [ -n "${RATE:-}" ]; then pace $(($(wc -c <"$1") % RATE)); fi
            }
            unpack() { # its name, to
              case "$1" in
                *.gz) gzip -dc >"$2" ;;
                *.zst) zstd -dc >"$2" ;;
                *.lz4) lz4 -dc >"$2" ;;
                *) cat >"$2" ;;
              esac
            }
            fetch_all() { # from, to: whole directories
              if [ -z "${RATE:-}$(find "$1" -name '*.age' -o -name '*.zst')" ]; then
                cp -R "$1"/. "$2"/
                return
              fi
              (cd "$1" && find . -type d) | while IFS= read -r d; do mkdir -p "$2/$d"; done
              (cd "$1" && find . ! -type d ! -type f) | while IFS= read -r f; do cp -P "$1/$f" "$2/$f"; done
              (cd "$1" && find . -type f) | while IFS= read -r f; do
                to=${f%.age}
                fetch "$1/$f" "$2/${to%.zst}" </dev/null
              done
            }
            """.split("\n");

    private final List<String> lines = new ArrayList<>();
    private final List<String> stores;

    /** Begins with what every recipe has: where the stores are, where the database goes, and a way to fetch a file. */
    public ScriptLines(String says, Collection<Part> parts) {
        Set<String> names = new LinkedHashSet<>();
        parts.forEach(p -> names.add(p.store()));
        stores = List.copyOf(names);
        add("#!/bin/sh");
        add("# " + says.replaceAll("[\\r\\n]", " "));
        add("set -eu");
        for (int i = 1; i <= stores.size(); i++) {
            add("# The directory of the store " + stores.get(i - 1).replaceAll("[\\r\\n]", " "));
            add("store_" + i + "=${STORE_" + i + ":?say where the store " + plain(stores.get(i - 1)) + " is mounted}");
        }
        add("new=${1:?say which directory the database goes to; it must be empty or not be there}");
        add("must_be_empty() {");
        add("  if [ -n \"$(ls -A \"$new\" 2>/dev/null || true)\" ]; then echo \"$new is not empty\" >&2; exit 1; fi");
        add("}");
        for (String line : FETCH) {
            add(line);
        }
    }

    /** Their ids, the first of them {@code STORE_1}. */
    public List<String> stores() {
        return stores;
    }

    /** What may stand in a message within double quotes or braces. */
    private static String plain(String name) {
        return name.replaceAll("[^A-Za-z0-9._:/-]", "?");
    }

    public final void add(String line) {
        lines.add(line);
    }

    /** The place of a copy as a word of the shell. */
    public String place(Part part) {
        int store = stores.indexOf(part.store()) + 1;
        return "\"$store_" + store + "\"" + (part.path().equals(".") ? "" : "/" + Recipe.quoted(part.path()));
    }

    @Override
    public String toString() {
        return String.join("\n", lines) + "\n";
    }
}
