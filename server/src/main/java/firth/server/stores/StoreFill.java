package firth.server.stores;

import firth.core.model.BackupStore;
import firth.server.policies.LookAhead;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * How one store fills.
 *
 * @param held bytes it holds now
 * @param needed bytes of them that a rule needs
 */
record StoreFill(LookAhead.AsItIs as, BackupStore store, double held, double needed) {

    /** Bytes held now and after each day if what is obsolete is purged. */
    double[] purged() {
        double[] room = room().clone();
        room[0] = held;
        return room;
    }

    /** The same if nothing is purged. */
    double[] goes() {
        return StoreRooms.asItGoes(held, needed, room(), as.obsolete().get(store.id()));
    }

    private double[] room() {
        return as.room().getOrDefault(store.id(), new double[as.days() + 1]);
    }

    /** The end of the first day after which more would be held than it has room for. */
    Optional<Instant> full(double[] bytes) {
        for (int d = 0; d < bytes.length && store.capacityBytes().isPresent(); d++) {
            if (bytes[d] > store.capacityBytes().getAsDouble()) {
                return Optional.of(as.from().plus(Duration.ofDays(d)));
            }
        }
        return Optional.empty();
    }

    /** The moment itself, taken as lying evenly within its day. */
    Optional<Instant> fullAt(double[] bytes) {
        double capacity = store.capacityBytes().orElse(Double.POSITIVE_INFINITY);
        for (int d = 1; d < bytes.length; d++) {
            if (bytes[d] > capacity && bytes[d - 1] <= capacity) {
                double share = (capacity - bytes[d - 1]) / (bytes[d] - bytes[d - 1]);
                return Optional.of(as.from().plus(Duration.ofDays(d - 1L)).plusSeconds((long)
                        (share * Duration.ofDays(1).toSeconds())));
            }
        }
        return bytes[0] > capacity ? Optional.of(as.from()) : Optional.empty();
    }
}
