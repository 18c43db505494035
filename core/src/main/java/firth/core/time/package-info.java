/**
 * Intervals, sets of intervals, running time and recurrences on a local calendar. Knows nothing of backups.
 *
 * <p>May use: nothing else of the core.
 */
@NullMarked
package firth.core.time;

import org.jspecify.annotations.NullMarked;
