package firth.server.platform;

import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.exc.InvalidNullException;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import java.time.Instant;
import java.util.stream.Collectors;

/** What is wrong with JSON that could not be read, in a sentence that names the field. */
final class JsonFlaw {

    private JsonFlaw() {}

    static String of(JsonProcessingException e) {
        if (e instanceof InvalidNullException missing) {
            return path(missing, missing.getPropertyName().getSimpleName()) + " is missing.";
        }
        if (e instanceof MismatchedInputException other) {
            return path(other, "What was sent") + " is not " + kind(other.getTargetType()) + ".";
        }
        JsonLocation at = e.getLocation();
        return "What was sent is not JSON"
                + (at == null ? "." : ": line " + at.getLineNr() + ", column " + at.getColumnNr() + ".");
    }

    /** As {@code items[2].outcome}; the name where the whole is meant. */
    private static String path(JsonMappingException e, String whole) {
        String path = e.getPath().stream()
                .map(r -> r.getFieldName() == null ? "[" + r.getIndex() + "]" : "." + r.getFieldName())
                .collect(Collectors.joining());
        return path.isEmpty() ? whole : path.startsWith(".") ? path.substring(1) : path;
    }

    private static String kind(Class<?> type) {
        if (type == null) {
            return "what is described";
        }
        if (type == Instant.class) {
            return "a moment such as 2026-11-23T09:12:00Z";
        }
        if (type == String.class) {
            return "a text";
        }
        if (type == boolean.class || type == Boolean.class) {
            return "true or false";
        }
        if (type.isPrimitive() || Number.class.isAssignableFrom(type)) {
            return "a number";
        }
        return Iterable.class.isAssignableFrom(type) ? "a list" : "an object";
    }
}
