package firth.server.intake;

import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * What a table would be read as; nothing of it was taken.
 *
 * @param records the first rows as lines of a fleet file
 */
public record TableView(ImportView report, List<String> records) {

    /** A mapping somebody gave a name, as a line of a fleet file. */
    public record KeptMapping(
            String id,
            String name,
            @Schema(description = "the mapping as JSON") String document) {}
}
