package firth.server.sheets;

import java.time.Instant;
import java.util.List;

/**
 * Recovery sheets: pages for the day on which everything else is gone.
 *
 * @param directory where they are written
 * @param trouble why the last try to write them failed; empty where it did not
 */
public record SheetsView(String directory, List<SheetRow> sheets, String trouble) {

    /** One sheet and what it is as of. */
    public record SheetRow(String name, Instant at) {}

    /**
     * A sheet for an agent to lay beside the backups.
     *
     * @param at when it was written
     */
    public record SheetFor(String name, Instant at, String html, String text) {}
}
