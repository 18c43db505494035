package firth.runner.drills;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.OptionalDouble;
import java.util.function.Consumer;

/**
 * How far a restore is. It is told whole each time, so that what Firth did not hear comes with the next; that it is not there holds
 * nothing up.
 */
final class Course {

    private final FirthLink firth;
    private final String restore;
    private final Clock clock;
    private final Consumer<String> says;
    private final ObjectNode all;
    private boolean heard = true;

    Course(FirthLink firth, String restore, ObjectNode all, Clock clock, Consumer<String> says) {
        this.firth = firth;
        this.restore = restore;
        this.all = all;
        this.clock = clock;
        this.says = says;
    }

    static ObjectNode begun(String host, String into) {
        ObjectNode all = Json.MAPPER.createObjectNode().put("host", host).put("into", into);
        all.putArray("states");
        all.putArray("checks");
        all.putArray("positions");
        return all;
    }

    Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    /** The state before is over. */
    synchronized void begin(String state) {
        end();
        all.withArray("states").addObject().put("state", state).put("began", now().toString());
    }

    /** The state it is in is over. */
    synchronized void end() {
        int states = all.withArray("states").size();
        if (states > 0) {
            ObjectNode last = (ObjectNode) all.withArray("states").get(states - 1);
            if (!last.has("ended")) {
                last.put("ended", now().toString());
            }
        }
    }

    /** How much of the state it is in is done: bytes of files, or logs. It never goes back. */
    synchronized void done(double done, OptionalDouble of) {
        int states = all.withArray("states").size();
        ObjectNode last = (ObjectNode) all.withArray("states").get(states - 1);
        if (done > last.path("done").asDouble(0)) {
            last.put("done", done);
            of.ifPresent(o -> last.put("of", o));
        }
    }

    synchronized void found(String check) {
        all.withArray("checks").add(check);
    }

    synchronized void put(String field, String value) {
        all.put(field, value);
    }

    synchronized void forked(String stream, long position) {
        all.withArray("positions").addObject().put("stream", stream).put("position", position);
    }

    synchronized ObjectNode all() {
        return all.deepCopy();
    }

    /** Tells it now. */
    void tell() throws IOException, InterruptedException, FirthLink.Refused {
        firth.ask(firth.request("/api/restore/begun/" + FirthLink.encoded(restore) + "/course")
                .header("content-type", "application/json")
                .POST(BodyPublishers.ofString(all().toString())));
    }

    /** Tells it if Firth is there. */
    void mention() throws InterruptedException {
        try {
            tell();
            heard = true;
        } catch (IOException | FirthLink.Refused e) {
            if (heard) {
                says.accept("goes on, though Firth does not hear of it: " + e.getMessage());
            }
            heard = false;
        }
    }
}
