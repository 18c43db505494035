package firth.server;

import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.media.Schema;

/** Every field of an answer is always there; one without a value is null. */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class RequiredFields implements OASFilter {

    @Override
    public Schema filterSchema(Schema schema) {
        if (schema.getProperties() != null) {
            schema.setRequired(new ArrayList<>(schema.getProperties().keySet()));
        }
        return schema;
    }
}
