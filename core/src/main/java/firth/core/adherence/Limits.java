package firth.core.adherence;

import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.model.RateLimit;
import firth.core.time.Spans;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/** How fast runs may go by a policy's rate limits, at the hour (docs/semantics.md, "How backups are taken"). */
public final class Limits {

    /** Whoever holds a run back does so in pieces: so much more in all is none too much. */
    private static final double ROUGHLY = 1.1;

    private final List<RateLimit> limits;
    private final OpenTime open;
    private final ZoneId zone;

    /** @param zone the one in which hours are told: the database's */
    public Limits(PolicyVersion version, ZoneId zone) {
        this.limits = version.taking().limits();
        this.open = new OpenTime(version.openHours(), zone);
        this.zone = zone;
    }

    /**
     * How many bytes a second a run may take at a moment; empty where nothing holds it back.
     *
     * @param store the one it writes to, where that is known
     * @param host the one it runs on, where that is known
     */
    public OptionalDouble at(Instant moment, Optional<String> store, Optional<String> host) {
        return most(moment, moment.plusMillis(1), store, host);
    }

    /** The greatest mean rate, in bytes a second, that {@code [from, to)} allows; empty where some of it is not limited. */
    public OptionalDouble most(Instant from, Instant to, Optional<String> store, Optional<String> host) {
        Spans left = Spans.of(from.toEpochMilli(), to.toEpochMilli());
        if (left.isEmpty()) {
            return OptionalDouble.empty();
        }
        double bytes = 0;
        for (RateLimit limit : strictestFirst(store, host)) {
            Spans held = holds(limit, from, to).and(left);
            for (int i = 0; i < held.count(); i++) {
                bytes += (held.to(i) - held.from(i)) / 1000.0 * limit.bytesPerSecond();
            }
            left = left.without(held);
        }
        return left.isEmpty()
                ? OptionalDouble.of(bytes * 1000 / (to.toEpochMilli() - from.toEpochMilli()))
                : OptionalDouble.empty();
    }

    /** Whether so many bytes from one moment until another are more than is allowed, and not just roughly. */
    public boolean isTooFast(double bytes, Instant from, Instant to, Optional<String> store, Optional<String> host) {
        OptionalDouble most = most(from, to, store, host);
        // What is held back may have sent a second's worth before it waited.
        double seconds = (to.toEpochMilli() - from.toEpochMilli()) / 1000.0 + 1;
        return most.isPresent() && bytes > most.getAsDouble() * seconds * ROUGHLY;
    }

    private List<RateLimit> strictestFirst(Optional<String> store, Optional<String> host) {
        List<RateLimit> out = new ArrayList<>();
        limits.stream().filter(l -> l.isFor(store, host)).forEach(out::add);
        out.sort(Comparator.comparingDouble(RateLimit::bytesPerSecond));
        return out;
    }

    private Spans holds(RateLimit limit, Instant from, Instant to) {
        Spans all = Spans.of(from.toEpochMilli(), to.toEpochMilli());
        Spans of = switch (limit.hours()) {
            case ALWAYS -> all;
            case OPEN -> open.within(from, to);
            case CLOSED -> all.without(open.within(from, to));
        };
        Optional<OpenHours> own = limit.at();
        return own.isEmpty() ? of : of.and(new OpenTime(List.of(own.get()), zone).within(from, to));
    }
}
