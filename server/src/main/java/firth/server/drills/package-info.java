/**
 * Proving that restores work: proposing, taking results, and what they tell of reading speeds.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code restore}.
 */
@NullMarked
package firth.server.drills;

import org.jspecify.annotations.NullMarked;
