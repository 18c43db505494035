package firth.server.api;

import java.util.List;

/**
 * What became of the lines of an imported file; lists are cut to the first 500, counts are not.
 *
 * @param assigned how many new databases the standing rules then gave a policy
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
        List<RejectedLine> warnings) {

    public record RejectedLine(long line, String field, String reason) {}
}
