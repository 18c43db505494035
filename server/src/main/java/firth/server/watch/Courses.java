package firth.server.watch;

import firth.core.forecast.Course;
import firth.core.history.History;
import firth.exchange.Told;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** How far a run is, as it was told while it ran. */
final class Courses {

    private Courses() {}

    /** How far a run is; empty where it never said. */
    static Optional<Watch.Progress> progress(History history, String run) {
        return history.runs().stream()
                .filter(r -> r.id().equals(run))
                .findFirst()
                .map(r -> Told.of(r).course())
                .filter(course -> !course.isEmpty())
                .map(Courses::last);
    }

    private static Watch.Progress last(List<Course.Point> course) {
        Course.Point last = course.get(course.size() - 1);
        Double rate = null;
        if (course.size() > 1) {
            Course.Point before = course.get(course.size() - 2);
            double seconds = Duration.between(before.at(), last.at()).toMillis() / 1000.0;
            rate = seconds > 0 ? (last.writtenBytes() - before.writtenBytes()) / seconds : null;
        }
        return new Watch.Progress(last.at(), last.readBytes(), last.writtenBytes(), rate);
    }
}
