package firth.core.history;

import firth.core.model.FleetRecord;

/**
 * A record that somebody states, with what is kept of it.
 *
 * @param document the record as text of the exchange format, whole, so that it can be given back
 */
public record Stated(FleetRecord record, String document) {}
