package firth.server.platform;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** The machine's clock, ahead of itself by what a file says: an ISO 8601 duration, which a trial may change at any time. */
final class MovedClock extends Clock {

    private final Path ahead;
    private final ZoneId zone;

    MovedClock(Path ahead) {
        this(ahead, ZoneOffset.UTC);
    }

    private MovedClock(Path ahead, ZoneId zone) {
        this.ahead = ahead;
        this.zone = zone;
    }

    @Override
    public ZoneId getZone() {
        return zone;
    }

    @Override
    public Clock withZone(ZoneId other) {
        return new MovedClock(ahead, other);
    }

    @Override
    public Instant instant() {
        try {
            return Instant.now().plus(Duration.parse(Files.readString(ahead).strip()));
        } catch (IOException e) {
            throw new UncheckedIOException("How far the clock is ahead could not be read", e);
        }
    }
}
