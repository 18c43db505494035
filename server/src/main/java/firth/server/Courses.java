package firth.server;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.history.History;
import firth.core.history.Run;
import firth.exchange.Texts;
import firth.server.api.Watch;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** The course of a run, as it was told of while it ran. */
final class Courses {

    private static final ObjectMapper JSON = new ObjectMapper();

    private Courses() {}

    /** How far a run is; empty where it never said. */
    static Optional<Watch.Progress> progress(History history, String run) {
        return history.runs().stream()
                .filter(r -> r.id().equals(run))
                .findFirst()
                .map(Run::rest)
                .filter(rest -> !rest.isEmpty())
                .flatMap(Courses::last);
    }

    private static Optional<Watch.Progress> last(String rest) {
        JsonNode course;
        try {
            course = JSON.readTree(rest).path("course");
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("What was kept of a run is not JSON", e);
        }
        JsonNode last = course.path(course.size() - 1);
        JsonNode before = course.path(course.size() - 2);
        Optional<Instant> at = Texts.instant(last.path("at").asText());
        double written = last.path("writtenBytes").asDouble();
        Double rate = at.flatMap(end -> Texts.instant(before.path("at").asText())
                        .map(begin -> Duration.between(begin, end).toMillis() / 1000.0)
                        .filter(seconds -> seconds > 0)
                        .map(seconds -> (written - before.path("writtenBytes").asDouble()) / seconds))
                .orElse(null);
        return at.map(a -> new Watch.Progress(a, last.path("readBytes").asDouble(), written, rate));
    }
}
