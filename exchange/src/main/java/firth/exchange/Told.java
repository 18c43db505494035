package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.forecast.Course;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Evidence;
import firth.core.model.Run;
import firth.core.model.Traits;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Stream;

/**
 * What runs and backups say of themselves beyond what they are judged by. It is read where it is looked at: what cannot be
 * understood counts as not said, and stays kept as it came.
 */
public final class Told {

    private static final String EVIDENCE = "evidence";

    private Told() {}

    /**
     * What a run said.
     *
     * @param output what the engine printed
     * @param course how much it had read and written when
     */
    public record RunTold(Optional<String> output, List<Course.Point> course) {}

    public static RunTold of(Run run) {
        JsonNode rest = rest(run.rest());
        List<Course.Point> course = new ArrayList<>();
        for (JsonNode point : rest.path("course")) {
            Texts.instant(point.path("at").asText())
                    .filter(at -> !at.isBefore(run.started()))
                    .ifPresent(at -> course.add(new Course.Point(
                            at,
                            point.path("readBytes").asDouble(),
                            point.path("writtenBytes").asDouble())));
        }
        course.sort(Comparator.comparing(Course.Point::at));
        return new RunTold(text(rest, "output"), course);
    }

    public static Traits of(Backup backup) {
        return traits(backup.rest());
    }

    /** Of a backup of which this is kept besides what it is judged by. */
    public static Traits traits(String kept) {
        JsonNode rest = rest(kept);
        Set<String> components = new HashSet<>();
        rest.path("components").forEach(c -> components.add(c.asText()));
        return new Traits(
                rest.path("bytesRead").isNumber()
                        ? OptionalDouble.of(rest.path("bytesRead").doubleValue())
                        : OptionalDouble.empty(),
                rest.path("parallel").canConvertToInt()
                        ? OptionalInt.of(rest.path("parallel").intValue())
                        : OptionalInt.empty(),
                flag(rest.path("compressed")),
                flag(rest.path("encrypted")),
                flag(rest.path("checksummed")),
                components,
                text(rest, "note"));
    }

    /** Where in its store a copy lies. */
    public static Optional<String> path(Copy copy) {
        return path(copy.rest());
    }

    /** Where a copy lies of which this is kept besides what it is judged by. */
    public static Optional<String> path(String kept) {
        return text(rest(kept), "path");
    }

    /** What a copy adds up to of which this is kept besides what it is judged by. */
    public static Optional<String> checksum(String kept) {
        return text(rest(kept), "checksum");
    }

    /**
     * Where a backup begins and ends in the logs, as its engine writes such places.
     *
     * @param transactions the last of each domain or server up to there
     */
    public record Written(String from, String to, Optional<String> transactions) {}

    /** Where a backup is in the logs of which this is kept; empty where nobody said. */
    public static Optional<Written> written(String kept) {
        JsonNode written = rest(kept).path("written");
        Optional<String> to = text(written, "to");
        return text(written, "from").flatMap(f -> to.map(t -> new Written(f, t, text(written, "transactions"))));
    }

    /**
     * How the times and positions of a copy are known.
     *
     * @param by who found it so; nobody said where it was only told
     */
    public record Known(Evidence is, Optional<String> by, Optional<Instant> at) {}

    /** How a copy is known of which this is kept besides what it is judged by. */
    public static Known evidence(String kept) {
        JsonNode evidence = rest(kept).path(EVIDENCE);
        String word = evidence.path("is").asText();
        return Stream.of(Evidence.values())
                .filter(e -> e.word().equals(word))
                .findFirst()
                .map(e ->
                        new Known(e, text(evidence, "by"), text(evidence, "at").flatMap(Texts::instant)))
                .orElse(new Known(Evidence.TOLD, Optional.empty(), Optional.empty()));
    }

    /**
     * The same copy, known by so much: it says who found it so and when. What is known by no more than a word says nothing of that.
     *
     * @param found by whom and when
     */
    public static Copy known(Copy copy, Known found) {
        return new Copy(
                copy.store(),
                copy.landed(),
                copy.statedLanding(),
                copy.lockedUntil(),
                copy.gone(),
                copy.spoiled(),
                copy.bytes(),
                found.is(),
                known(copy.rest(), found));
    }

    /** The same of what is kept of a copy besides what it is judged by. */
    public static String known(String kept, Known found) {
        ObjectNode rest = kept.isEmpty() ? Json.MAPPER.createObjectNode() : Json.object(kept);
        rest.remove(EVIDENCE);
        if (found.is() != Evidence.TOLD) {
            ObjectNode evidence = rest.putObject(EVIDENCE).put("is", found.is().word());
            found.by().ifPresent(by -> evidence.put("by", by));
            found.at().ifPresent(at -> evidence.put("at", at.toString()));
        }
        return rest.isEmpty() ? "" : Json.canonical(rest);
    }

    /** The last change a log holds, as exactly as it was said, of which this is kept besides what it is judged by; empty where nobody said. */
    public static Optional<Instant> lastCommit(String kept) {
        return text(rest(kept), "lastCommit").flatMap(Texts::exactInstant);
    }

    /** The name of the key a backup was encrypted with of which this is kept. */
    public static Optional<String> key(String kept) {
        return text(rest(kept).path("encrypted"), "key");
    }

    private static JsonNode rest(String rest) {
        return rest.isEmpty() ? JsonNodeFactory.instance.objectNode() : Json.object(rest);
    }

    /** An object that says more, such as which key, says yes. */
    private static Optional<Boolean> flag(JsonNode value) {
        if (value.isBoolean()) {
            return Optional.of(value.booleanValue());
        }
        return value.isObject() ? Optional.of(true) : Optional.empty();
    }

    private static Optional<String> text(JsonNode rest, String name) {
        return rest.path(name).isTextual() ? Optional.of(rest.path(name).textValue()) : Optional.empty();
    }
}
