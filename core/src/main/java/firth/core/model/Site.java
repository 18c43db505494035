package firth.core.model;

/** A place that can be lost as a whole. */
public record Site(String id, String name) implements FleetRecord {}
