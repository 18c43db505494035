package firth.server.database;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.history.Room;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

/** The size of a database's backups, and the room they take up, over a period. */
final class DatabaseRooms {

    private static final int STEPS = 120;

    private DatabaseRooms() {}

    static DatabaseView.RoomView of(FleetNow fleet, Evaluation e, Lookout.View view) {
        Room room = new Room(e.history(), view.period(), STEPS, view.asOf());
        return new DatabaseView.RoomView(
                IntStream.rangeClosed(0, STEPS).mapToObj(room::moment).toList(),
                IntStream.range(0, room.stores().size())
                        .mapToObj(s -> new DatabaseView.StoreRoom(
                                room.stores().get(s),
                                fleet.storeName(room.stores().get(s)),
                                room.bytes(s)))
                        .filter(s -> s.bytes().stream().anyMatch(b -> b > 0))
                        .toList(),
                sizes(e, view));
    }

    private static List<DatabaseView.BackupSize> sizes(Evaluation e, Lookout.View view) {
        History h = e.history();
        List<DatabaseView.BackupSize> out = new ArrayList<>();
        for (int i : h.others()) {
            Instant ended = Instant.ofEpochMilli(h.endedMs(i));
            if (h.kind(i).isData()
                    && !ended.isBefore(view.period().from())
                    && !ended.isAfter(view.asOf())
                    && h.firstCopy(i) < h.firstCopy(i + 1)
                    && !Double.isNaN(h.bytes(h.firstCopy(i)))) {
                out.add(new DatabaseView.BackupSize(h.id(i), h.kind(i).word(), ended, h.bytes(h.firstCopy(i))));
            }
        }
        out.sort(Comparator.comparing(DatabaseView.BackupSize::at));
        return out;
    }
}
