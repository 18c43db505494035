/**
 * The fleet as if chosen things were gone.
 *
 * <p>The trade's term beside ours: a loss rehearsal is a disaster recovery exercise.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code restore}.
 */
@NullMarked
package firth.server.rehearsal;

import org.jspecify.annotations.NullMarked;
