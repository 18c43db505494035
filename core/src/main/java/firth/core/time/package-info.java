/**
 * Intervals, sets of intervals, running time and recurrences on a local calendar. Knows nothing of backups.
 *
 * <p>May use: nothing else of the core.
 */
package firth.core.time;
