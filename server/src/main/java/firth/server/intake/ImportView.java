package firth.server.intake;

import java.util.List;

/**
 * What became of the lines of an imported file; lists are cut to the first 2 000, counts are not.
 *
 * @param assigned how many new databases the standing rules then gave a policy
 * @param unknown databases that runs or backups were told of and nobody has enrolled: their facts are kept and count once somebody does
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
        String header,
        List<UnknownDatabase> unknown) {

    /** @param facts how many runs and backups were told of it */
    public record UnknownDatabase(String database, long facts) {}

    /** @param text the line as it came; empty where it was too long to be kept */
    public record RejectedLine(long line, String field, String reason, String text) {}
}
