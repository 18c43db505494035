package firth.server.sheets;

import java.time.Instant;
import java.util.List;

/**
 * Recovery sheets: pages for the day on which everything else is gone.
 *
 * @param directory where they are written
 * @param sites those of whole sites
 * @param databases how many there are of databases whose names have the words looked for
 * @param rows a stretch of those
 * @param trouble why the last try to write them failed; empty where it did not
 */
public record SheetsView(String directory, List<SheetRow> sites, int databases, List<SheetRow> rows, String trouble) {

    /**
     * One sheet and what it is as of.
     *
     * @param of the id of its site or database
     */
    public record SheetRow(String name, String of, Instant at) {}

    /**
     * A sheet for an agent to lay beside the backups.
     *
     * @param at when it was written
     */
    public record SheetFor(String name, Instant at, String html, String text) {}
}
