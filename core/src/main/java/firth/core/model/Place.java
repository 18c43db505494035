package firth.core.model;

import java.util.Optional;

/**
 * Where a copy lies in its store: a path from the store's root, its parts joined by {@code /}. One place holds one backup
 * (docs/semantics.md, "Objects"); a slash in front says the same.
 */
public record Place(String store, String path) {

    /** The place of a path as somebody wrote it, which has no {@link #flaw}. */
    public static Place of(String store, String written) {
        return new Place(store, written.startsWith("/") ? written.substring(1) : written);
    }

    /** Why a path names no place of its own below the store's root; empty where it does. */
    public static Optional<String> flaw(String written) {
        String path = written.startsWith("/") ? written.substring(1) : written;
        if (path.chars().anyMatch(Character::isISOControl)) {
            return Optional.of("contains a control character");
        }
        for (String part : path.split("/", -1)) {
            if (part.isEmpty()) {
                return Optional.of(
                        "has an empty part: it names a file by its way from the store's root, such as a/b.bak");
            }
            if (part.equals(".") || part.equals("..")) {
                return Optional.of(
                        "goes by way of " + part + ": it names a file by its way from the store's root alone");
            }
        }
        return Optional.empty();
    }
}
