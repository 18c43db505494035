package firth.core.fleet;

/** Where a database's data, logs and copies go. Kept and given back; nothing is computed from it yet. */
public record Route(String id) implements FleetRecord {}
