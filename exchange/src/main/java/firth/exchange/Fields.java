package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Id;
import firth.wording.PositionWords;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Function;

/**
 * The fields of one JSON object, read by name and type. A value of the wrong type or out of bounds is a
 * {@link BadField} that names it; {@code null} is the same as absent.
 */
final class Fields {

    private final ObjectNode node;
    private final String path;
    private final BiConsumer<String, String> warnings;
    private final boolean counted;

    /** @param warnings takes a field and what is odd about it */
    Fields(ObjectNode node, String path, BiConsumer<String, String> warnings) {
        this(node, path, warnings, false);
    }

    private Fields(ObjectNode node, String path, BiConsumer<String, String> warnings, boolean counted) {
        this.node = node;
        this.path = path;
        this.warnings = warnings;
        this.counted = counted;
    }

    /** Fields that name places in lists too, counted from 0, for whoever shows what is wrong at the value. */
    static Fields counting(ObjectNode node) {
        return new Fields(node, "", (field, text) -> {}, true);
    }

    ObjectNode node() {
        return node;
    }

    BadField bad(String name, String reason) {
        return new BadField(path + name, reason);
    }

    void warn(String name, String text) {
        warnings.accept(path + name, text);
    }

    boolean has(String name) {
        return node.hasNonNull(name);
    }

    /** Warns of fields that no version of the format knows. */
    void warnUnknown(Set<String> known) {
        for (Iterator<String> names = node.fieldNames(); names.hasNext(); ) {
            String name = names.next();
            if (!known.contains(name)) {
                warn(name, "is not a field Firth knows; it is kept and given back, not used");
            }
        }
    }

    /** What is left when the given fields are taken out, as canonical text; empty when nothing is. */
    String rest(Set<String> used) {
        ObjectNode left = null;
        for (Map.Entry<String, JsonNode> field : node.properties()) {
            if (!used.contains(field.getKey())) {
                left = left == null ? Json.MAPPER.createObjectNode() : left;
                left.set(field.getKey(), field.getValue());
            }
        }
        return left == null ? "" : Json.canonical(left);
    }

    Optional<String> text(String name) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return Optional.empty();
        }
        if (!value.isTextual()) {
            throw bad(name, "is not text");
        }
        return Optional.of(value.textValue());
    }

    Optional<String> id(String name) {
        return text(name).map(t -> {
            if (!Id.isId(t)) {
                throw bad(name, Id.IS_NONE);
            }
            return t;
        });
    }

    String requiredId(String name) {
        return id(name).orElseThrow(() -> bad(name, "is missing"));
    }

    boolean flag(String name, boolean otherwise) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return otherwise;
        }
        if (!value.isBoolean()) {
            throw bad(name, "is neither true nor false");
        }
        return value.booleanValue();
    }

    Optional<Instant> instant(String name) {
        return text(name).map(t -> {
            Instant moment = Texts.instant(t)
                    .orElseThrow(() -> bad(
                            name,
                            "is not an RFC 3339 instant such as 2026-11-23T09:12:00Z (hours go to 23, seconds to 59)"));
            if (moment.isBefore(Texts.EARLIEST) || moment.isAfter(Texts.LATEST)) {
                warn(name, "lies far outside this age (" + t + "); check the clock it came from");
            }
            return moment;
        });
    }

    /** A day of the calendar, wherever it is. */
    Optional<LocalDate> date(String name) {
        return text(name).map(t -> {
            try {
                return LocalDate.parse(t);
            } catch (DateTimeException e) {
                throw bad(name, "is not a date such as 2026-01-05");
            }
        });
    }

    Instant requiredInstant(String name) {
        return instant(name).orElseThrow(() -> bad(name, "is missing"));
    }

    /** A duration of zero or more. */
    Optional<Duration> duration(String name) {
        return text(name).map(t -> {
            Duration d = Texts.duration(t)
                    .orElseThrow(
                            () -> bad(
                                    name,
                                    "is not an ISO 8601 duration such as PT10M, P18D or P1Y (a month counts 31 days, a year 366)"));
            if (d.isNegative()) {
                throw bad(name, "must not be negative");
            }
            return d;
        });
    }

    Optional<Duration> positiveDuration(String name) {
        Optional<Duration> d = duration(name);
        if (d.filter(Duration::isZero).isPresent()) {
            throw bad(name, "must be longer than zero");
        }
        return d;
    }

    /** A number of zero or more. */
    OptionalDouble amount(String name) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return OptionalDouble.empty();
        }
        if (!value.isNumber() || !Double.isFinite(value.doubleValue()) || value.doubleValue() < 0) {
            throw bad(name, "is not a number of 0 or more");
        }
        return OptionalDouble.of(value.doubleValue());
    }

    /** An amount a second; one of 0 says nothing. */
    OptionalDouble rate(String name) {
        OptionalDouble found = amount(name);
        return found.isPresent() && found.getAsDouble() > 0 ? found : OptionalDouble.empty();
    }

    OptionalInt count(String name) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return OptionalInt.empty();
        }
        if (!value.canConvertToExactIntegral() || !value.canConvertToInt() || value.intValue() < 0) {
            throw bad(name, "is not a whole number of 0 or more");
        }
        return OptionalInt.of(value.intValue());
    }

    long position(String name, JsonNode value) {
        if (value.isTextual()) {
            return PositionWords.meant(value.textValue()).orElseThrow(() -> notAPosition(name));
        }
        if (!value.isNumber()
                || !value.canConvertToExactIntegral()
                || !value.canConvertToLong()
                || value.longValue() < 0) {
            throw notAPosition(name);
        }
        return value.longValue();
    }

    private BadField notAPosition(String name) {
        return bad(name, "is not a log position: " + PositionWords.FORMS);
    }

    JsonNode value(String name) {
        return node.path(name);
    }

    <T> Optional<T> word(String name, Map<String, T> words) {
        return text(name)
                .map(t -> Optional.ofNullable(words.get(t))
                        .orElseThrow(() -> bad(
                                name,
                                "is none of "
                                        + String.join(
                                                ", ",
                                                words.keySet().stream().sorted().toList()))));
    }

    Optional<Fields> object(String name) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return Optional.empty();
        }
        if (!(value instanceof ObjectNode object)) {
            throw bad(name, "is not an object");
        }
        return Optional.of(new Fields(object, path + name + ".", warnings, counted));
    }

    <T> List<T> objects(String name, Function<Fields, T> each) {
        List<T> out = new ArrayList<>();
        for (JsonNode item : array(name)) {
            if (!(item instanceof ObjectNode object)) {
                throw bad(name, "contains something that is not an object");
            }
            String place = counted ? path + name + "." + out.size() + "." : path + name + ".";
            out.add(each.apply(new Fields(object, place, warnings, counted)));
        }
        return out;
    }

    List<String> texts(String name) {
        List<String> out = new ArrayList<>();
        for (JsonNode item : array(name)) {
            if (!item.isTextual()) {
                throw bad(name, "contains something that is not text");
            }
            out.add(item.textValue());
        }
        return out;
    }

    private Iterable<JsonNode> array(String name) {
        JsonNode value = node.get(name);
        if (value == null || value.isNull()) {
            return List.of();
        }
        if (!value.isArray()) {
            throw bad(name, "is not a list");
        }
        return value;
    }
}
