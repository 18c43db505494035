/**
 * The holes in the logs of the whole fleet.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code cover}.
 */
@NullMarked
package firth.server.gaps;

import org.jspecify.annotations.NullMarked;
