package firth.server.database;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/** Some of a database's available copies, newest backups first. */
public record BackupPage(int total, List<Item> items) {

    /** One copy. */
    public record Item(
            String id,
            String kind,
            Instant from,
            Instant to,
            @Schema(nullable = true) @Nullable Double bytes,
            String store,
            String storeName,
            String role,
            String verdict,
            List<Label> reasons) {}

    /** A reason, in the exchange's word and in a person's. */
    public record Label(String word, String text) {}
}
