package firth.exchange;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import firth.core.model.Accept;
import firth.core.model.Assigned;
import firth.core.model.Drill;
import firth.core.model.FleetRecord;
import firth.core.model.Hold;
import firth.core.model.Id;
import firth.core.model.Note;
import firth.core.model.Order;
import firth.core.model.Restore;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;

/**
 * Writes records that people state on a page as they stand in a fleet file (docs/exchange.md): what is read of it is the record
 * again, its moments cut to the millisecond.
 *
 * <p>Each throws {@link BadField} where an id is none or what it says could not be read again.
 */
public final class StatedRecords {

    private final FleetRecord record;
    private final ObjectNode out = Json.MAPPER.createObjectNode();

    private StatedRecords(FleetRecord record) {
        this.record = record;
        out.put("type", record.type());
        id("id", record.id());
    }

    public static Stated of(Hold hold) {
        return new StatedRecords(hold)
                .id("backup", hold.backup())
                .id("database", hold.database())
                .moment("moment", hold.moment())
                .text("reason", hold.reason())
                .text("by", hold.by())
                .moment("from", hold.from())
                .moment("until", hold.until())
                .stated();
    }

    public static Stated of(Accept accept) {
        if (accept.until().toEpochMilli() <= accept.at().toEpochMilli()) {
            throw new BadField("until", "is not after at: it would never hold");
        }
        return new StatedRecords(accept)
                .text("finding", accept.finding())
                .text("reason", accept.reason())
                .text("by", accept.by())
                .moment("at", accept.at())
                .moment("until", accept.until())
                .moment("withdrawn", accept.withdrawn())
                .stated();
    }

    public static Stated of(Note note) {
        return new StatedRecords(note)
                .id("database", note.database())
                .text("text", note.text())
                .text("by", note.by())
                .moment("at", note.at())
                .moment("withdrawn", note.withdrawn())
                .stated();
    }

    public static Stated of(Order order) {
        return new StatedRecords(order)
                .id("database", order.database())
                .text("kind", order.kind().word())
                .id("store", order.store())
                .moment("at", order.at())
                .text("by", order.by())
                .text("reason", order.reason())
                .text("name", order.name())
                .stated();
    }

    public static Stated of(Assigned assigned) {
        return new StatedRecords(assigned)
                .id("database", assigned.database())
                .id("policy", assigned.policy())
                .id("route", assigned.route())
                .moment("from", assigned.from())
                .text("by", assigned.by())
                .text("why", assigned.why())
                .stated();
    }

    public static Stated of(Drill drill) {
        StatedRecords record = new StatedRecords(drill)
                .id("database", drill.database())
                .moment("moment", drill.moment())
                .moment("reached", drill.reached())
                .id("backup", drill.backup())
                .moment("started", drill.started())
                .moment("ended", drill.ended())
                .outcome(drill.ok())
                .text("message", drill.message());
        drill.checks().forEach(c -> record.out.withArray("checks").add(c));
        return record.stated();
    }

    public static Stated of(Restore restore) {
        return new StatedRecords(restore)
                .id("database", restore.database())
                .moment("moment", restore.moment())
                .moment("reached", restore.reached())
                .id("backup", restore.backup())
                .moment("started", restore.started())
                .moment("ended", restore.ended())
                .outcome(Optional.of(restore.ok()))
                .id("into", restore.into())
                .text("by", restore.by())
                .text("message", restore.message())
                .stated();
    }

    private StatedRecords id(String name, String id) {
        if (!Id.isId(id)) {
            throw new BadField(name, Id.IS_NONE);
        }
        out.put(name, id);
        return this;
    }

    private StatedRecords id(String name, Optional<String> id) {
        return id.isPresent() ? id(name, id.get()) : this;
    }

    /** What is said in no words is left out. */
    private StatedRecords text(String name, String text) {
        return text.isEmpty() ? this : text(name, Optional.of(text));
    }

    private StatedRecords text(String name, Optional<String> text) {
        text.ifPresent(t -> out.put(name, t));
        return this;
    }

    private StatedRecords moment(String name, Instant moment) {
        out.put(name, moment.truncatedTo(ChronoUnit.MILLIS).toString());
        return this;
    }

    private StatedRecords moment(String name, Optional<Instant> moment) {
        return moment.isPresent() ? moment(name, moment.get()) : this;
    }

    private StatedRecords outcome(Optional<Boolean> ok) {
        return text("outcome", ok.map(well -> well ? "ok" : "failed"));
    }

    private Stated stated() {
        return new Stated(record, Json.canonical(out));
    }
}
