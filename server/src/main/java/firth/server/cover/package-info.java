/**
 * The fleet as ribbons, and how an evaluation becomes a row of them.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.cover;

import org.jspecify.annotations.NullMarked;
