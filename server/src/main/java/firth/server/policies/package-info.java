/**
 * Policies, what a change of one would do to the past and to the days to come, when recurrences fall, and rules for programs
 * other than Firth.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code cover}.
 */
@NullMarked
package firth.server.policies;

import org.jspecify.annotations.NullMarked;
