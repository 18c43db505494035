package firth.core.model;

import java.time.Instant;

/** What somebody found at a moment: an earlier finding never takes the place of a later one of the same id. */
public interface Observed extends FleetRecord {

    /** When it was found. */
    Instant at();
}
