package firth.core.forecast;

import java.time.Duration;

/**
 * How backups of a kind have lately gone.
 *
 * @param median the usual duration
 * @param longest of the runs looked at
 * @param bytes the usual size, 0 where none is known
 * @param runs how many were looked at, at least 1
 */
public record Usual(Duration median, Duration longest, double bytes, int runs) {}
