package firth.engines;

import java.util.Locale;

/** The engines whose files are read here, by the words by which Firth knows them. */
public final class Engines {

    private Engines() {}

    /**
     * The word for an engine as somebody stated it: {@code postgresql} for "PostgreSQL 15", {@code mariadb} for "MariaDB-10.11". Of an
     * engine that is not read here its first word, which is none of those for which there are readers and recipes.
     */
    public static String word(String stated) {
        return stated.strip().toLowerCase(Locale.ROOT).split("[^a-z]", 2)[0];
    }
}
