package firth.core.model;

import java.time.Instant;

/** The slot a run says it was made for: the schedule's id, and when the slot opened. */
public record NamedSlot(String schedule, Instant opens) {}
