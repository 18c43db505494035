package firth.server.platform;

import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.eclipse.microprofile.openapi.OASFactory;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;
import org.eclipse.microprofile.openapi.models.Operation;
import org.eclipse.microprofile.openapi.models.PathItem;
import org.eclipse.microprofile.openapi.models.media.Schema.SchemaType;
import org.eclipse.microprofile.openapi.models.parameters.Parameter;

/** Says in the description of the API how each request may be refused. */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class DescribedProblems implements OASFilter {

    private static final String SCHEMA = "Problem";

    private static final Map<String, String> OFTEN = Map.of(
            "400", "A parameter or field is wrong: the detail names it.",
            "401", "Nobody is signed in, or the token is not known.",
            "403", "The roles of whoever asks do not allow it.",
            "500", "No answer could be given; whether anything was done is told where it is known.");

    @Override
    public void filterOpenAPI(OpenAPI api) {
        api.getComponents().addSchema(SCHEMA, schema());
        api.getPaths()
                .getPathItems()
                .forEach((path, item) -> item.getOperations().forEach((method, operation) -> {
                    Map<String, String> ways = new TreeMap<>(OFTEN);
                    if (has(operation, Parameter.In.PATH) || has(item, Parameter.In.PATH)) {
                        ways.put("404", "There is nothing of this id.");
                    }
                    if (method != PathItem.HttpMethod.GET) {
                        ways.put("409", "What it was to act on has changed meanwhile.");
                    }
                    if (path.startsWith("/api/import")) {
                        ways.put("422", "It is not a fleet file, or not in UTF-8.");
                    }
                    ways.forEach((status, text) -> refused(operation, status, text));
                }));
    }

    private static boolean has(Operation operation, Parameter.In where) {
        return operation.getParameters() != null
                && operation.getParameters().stream().anyMatch(p -> p.getIn() == where);
    }

    private static boolean has(PathItem item, Parameter.In where) {
        return item.getParameters() != null && item.getParameters().stream().anyMatch(p -> p.getIn() == where);
    }

    private static void refused(Operation operation, String status, String text) {
        operation
                .getResponses()
                .addAPIResponse(
                        status,
                        OASFactory.createAPIResponse()
                                .description(text)
                                .content(OASFactory.createContent()
                                        .addMediaType(
                                                Problem.MEDIA_TYPE,
                                                OASFactory.createMediaType()
                                                        .schema(OASFactory.createSchema()
                                                                .ref("#/components/schemas/" + SCHEMA)))));
    }

    private static org.eclipse.microprofile.openapi.models.media.Schema schema() {
        org.eclipse.microprofile.openapi.models.media.Schema out =
                OASFactory.createSchema().addType(SchemaType.OBJECT);
        List.of("type", "title", "detail", "unharmed", "remedy")
                .forEach(f -> out.addProperty(f, OASFactory.createSchema().addType(SchemaType.STRING)));
        out.addProperty("status", OASFactory.createSchema().addType(SchemaType.INTEGER));
        out.setRequired(List.copyOf(out.getProperties().keySet()));
        out.setDescription("What is wrong, what is unharmed, and what to do (RFC 9457).");
        return out;
    }
}
