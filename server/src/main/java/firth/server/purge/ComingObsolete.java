package firth.server.purge;

import firth.server.policies.LookAhead;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What will become obsolete, week by week. */
@ApplicationScoped
class ComingObsolete {

    private static final int WEEKS = 6;

    private final LookAhead ahead;

    ComingObsolete(LookAhead ahead) {
        this.ahead = ahead;
    }

    List<PurgeView.Week> weeks(Optional<String> store) {
        LookAhead.AsItIs as = ahead.fleetwide();
        List<PurgeView.Week> out = new ArrayList<>();
        for (int week = 0; week < WEEKS; week++) {
            double bytes = 0;
            for (var entry : as.obsolete().entrySet()) {
                if (store.filter(s -> !s.equals(entry.getKey())).isEmpty()) {
                    for (int day = 7 * week + 1; day <= 7 * week + 7; day++) {
                        bytes += entry.getValue()[day];
                    }
                }
            }
            Instant from = as.from().plus(Duration.ofDays(7L * week));
            out.add(new PurgeView.Week(from, from.plus(Duration.ofDays(7)), bytes));
        }
        return out;
    }
}
