package firth.core.fleet;

import java.time.Instant;
import java.util.Optional;

/** A restore done to prove that it works. Only its times count so far, for the moment the newest fact is from. */
public record Drill(String id, String database, Optional<Instant> started, Optional<Instant> ended)
        implements FleetRecord {}
