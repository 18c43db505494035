package firth.server.record;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * The record of what people and programs did, the newest first.
 *
 * @param delivering what programs delivered in the hour that is not over: it is entered when it is
 */
public record RecordView(List<DeedView> deeds, boolean more, List<Delivering> delivering) {

    /** What one source delivered so far. */
    public record Delivering(String who, String source, Instant since, long deliveries, long added, long updated) {}

    /** One entry. */
    public record DeedView(
            long number, Instant at, String who, String act, String about, Map<String, Object> detail, String hash) {}

    /**
     * Whether the record is whole.
     *
     * @param length how many entries are
     * @param head the hash of the last whole one: write it down elsewhere, so that an end cut off is seen
     * @param broken the first entry that does not fit; null where all do
     */
    public record Wholeness(
            long length,
            String head,
            @Schema(nullable = true) @Nullable Long broken,
            @Schema(nullable = true) @Nullable String what) {}
}
