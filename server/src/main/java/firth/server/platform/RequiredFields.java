package firth.server.platform;

import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;

/**
 * Every field of an answer is always there; one without a value is null. What is written by people or programs, a
 * {@code ...Document} or a part of one, has the fields it has.
 */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class RequiredFields implements OASFilter {

    @Override
    public void filterOpenAPI(OpenAPI api) {
        api.getComponents().getSchemas().forEach((name, schema) -> {
            if (schema.getProperties() != null && !name.endsWith("Document")) {
                schema.setRequired(new ArrayList<>(schema.getProperties().keySet()));
            }
        });
    }
}
