package firth.server.api;

import java.util.List;

/**
 * What became of the lines of an imported file; lists are cut to the first 2 000, counts are not.
 *
 * @param assigned how many new databases the standing rules then gave a policy
 * @param header of a table: the row that names its columns; else empty
 */
public record ImportView(
        String file,
        long lines,
        long added,
        long updated,
        long unchanged,
        int assigned,
        long rejectedLines,
        List<RejectedLine> rejected,
        List<RejectedLine> warnings,
        String header) {

    /** @param text the line as it came; empty where it was too long to be kept */
    public record RejectedLine(long line, String field, String reason, String text) {}
}
