package firth.server.restore;

import firth.server.platform.BadRequest;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What a program says of a restore it carries out, laid into what is kept of it. */
final class CarriedOut {

    /** A program that was not heard of for so long gave up; another may take over. */
    private static final Duration SILENT = Duration.ofMinutes(10);

    /** What a program leaves to people, beyond having it opened: looking whether all is there, the first full. */
    private static final String LAST = "open";

    private CarriedOut() {}

    static RestoreView.KeptRestore of(
            RestoreView.KeptRestore kept, RestoreView.RestoreCourse course, Instant now, String by) {
        check(course);
        RestoreView.@Nullable RestoreCourse before = kept.course();
        if (before != null
                && !before.hasEnded()
                && !before.host().equals(course.host())
                && before.told() != null
                && before.told().plus(SILENT).isAfter(now)) {
            throw new BadRequest("host", "is not the one that carries it out: " + before.host() + " is at it");
        }
        Map<String, Instant> over = new HashMap<>();
        course.states().stream().filter(s -> s.ended() != null).forEach(s -> over.put(s.state(), s.ended()));
        if (course.opened() != null) {
            over.put(LAST, course.opened());
        }
        Set<String> opened = new HashSet<>();
        List<RestoreView.CheckItem> items = new ArrayList<>();
        for (RestoreView.CheckItem i : kept.items()) {
            Instant done = over.get(i.state());
            boolean its = done != null && (!i.state().equals(LAST) || opened.add(LAST));
            items.add(
                    its && i.done() == null
                            ? new RestoreView.CheckItem(i.id(), i.state(), i.text(), i.details(), done, by)
                            : i);
        }
        return kept.with(items).with(course.heard(now));
    }

    private static void check(RestoreView.RestoreCourse course) {
        if (course.host().isBlank() || course.into().isBlank()) {
            throw new BadRequest(course.host().isBlank() ? "host" : "into", "is missing");
        }
        Set<String> known = new HashSet<>();
        Checklist.STATES.forEach(s -> known.add(s.id()));
        for (RestoreView.CourseState s : course.states()) {
            if (!known.remove(s.state())) {
                throw new BadRequest(
                        "states", "names " + s.state() + ", which is none of a restore, or is there twice");
            }
            if (s.ended() != null && s.ended().isBefore(s.began())) {
                throw new BadRequest("states", "says that " + s.state() + " ended before it began");
            }
        }
    }
}
