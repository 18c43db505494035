package firth.engines;

import firth.engines.Recipe.Part;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** A script for a POSIX shell as it grows line by line. */
public final class ScriptLines {

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
        add("fetch() { # from, to: unpacked as its name says");
        add("  case \"$1\" in");
        add("    *.gz) gzip -dc <\"$1\" >\"$2\";;");
        add("    *.zst) zstd -dc <\"$1\" >\"$2\";;");
        add("    *.lz4) lz4 -dc <\"$1\" >\"$2\";;");
        add("    *) cp \"$1\" \"$2\";;");
        add("  esac");
        add("}");
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
