package firth.server.database;

import firth.core.evaluation.HazardEvaluation;
import firth.core.objective.AgePieces;
import firth.server.cover.CoverRows;
import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;

/** The worst age in each of some slices of a period, so that no age however short is drawn over. */
public final class AgeSlices {

    private AgeSlices() {}

    /** As many slices, or fewer where some would be empty. */
    public static List<DatabaseView.AgeSlice> of(HazardEvaluation h, int slices) {
        AgePieces pieces = h.ages();
        if (pieces.size() == 0) {
            return List.of();
        }
        long begin = pieces.fromMs(0);
        long length = Math.max(1, (pieces.toMs(pieces.size() - 1) - begin + slices - 1) / slices);
        long[] worst = new long[slices];
        for (int i = 0; i < pieces.size(); i++) {
            int first = (int) ((pieces.fromMs(i) - begin) / length);
            int last = (int) ((pieces.toMs(i) - 1 - begin) / length);
            for (int s = first; s <= last; s++) {
                long end = Math.min(pieces.toMs(i), begin + (s + 1) * length);
                long start = Math.max(pieces.fromMs(i), begin + s * length);
                long atStart = pieces.ageMs(i) + pieces.slope(i) * (start - pieces.fromMs(i));
                long atEnd = pieces.ageMs(i) + pieces.slope(i) * (end - pieces.fromMs(i));
                worst[s] = Math.max(worst[s], Math.max(atStart, atEnd));
            }
        }
        Double objective = h.objective().map(CoverRows::seconds).orElse(null);
        return IntStream.range(0, slices)
                .filter(s -> begin + s * length < pieces.toMs(pieces.size() - 1))
                .mapToObj(s -> new DatabaseView.AgeSlice(
                        Instant.ofEpochMilli(begin + s * length),
                        Instant.ofEpochMilli(begin + (s + 1) * length),
                        worst[s] / 1000.0,
                        objective))
                .toList();
    }
}
