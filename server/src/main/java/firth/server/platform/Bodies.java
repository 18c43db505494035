package firth.server.platform;

import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.Nulls;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.introspect.Annotated;
import com.fasterxml.jackson.databind.introspect.AnnotatedConstructor;
import com.fasterxml.jackson.databind.introspect.AnnotatedParameter;
import com.fasterxml.jackson.databind.introspect.JacksonAnnotationIntrospector;
import jakarta.ws.rs.ext.ContextResolver;
import jakarta.ws.rs.ext.Provider;
import java.util.Collection;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * How what is sent as JSON becomes a record. A field that is absent or null is null where the record says {@code @Nullable}; else it is
 * an empty text, list or map, or it is missing, and what is sent is refused.
 */
@Provider
public class Bodies implements ContextResolver<ObjectMapper> {

    private final ObjectMapper mapper;

    Bodies(ObjectMapper known) {
        mapper = known.copy().setAnnotationIntrospector(new Absent());
    }

    @Override
    public ObjectMapper getContext(Class<?> type) {
        return mapper;
    }

    /** Says of each field of a record what stands for it where it is absent. */
    private static final class Absent extends JacksonAnnotationIntrospector {

        private static final long serialVersionUID = 1;

        @Override
        public JsonSetter.Value findSetterInfo(Annotated field) {
            if (!(field instanceof AnnotatedParameter p)
                    || !(p.getOwner() instanceof AnnotatedConstructor c)
                    || !c.getDeclaringClass().isRecord()
                    || p.getRawType().isPrimitive()
                    || c.getAnnotated()
                            .getAnnotatedParameterTypes()[p.getIndex()]
                            .isAnnotationPresent(Nullable.class)) {
                return super.findSetterInfo(field);
            }
            Class<?> type = p.getRawType();
            boolean empty =
                    type == String.class || Collection.class.isAssignableFrom(type) || Map.class.isAssignableFrom(type);
            return JsonSetter.Value.construct(empty ? Nulls.AS_EMPTY : Nulls.FAIL, Nulls.FAIL);
        }
    }
}
