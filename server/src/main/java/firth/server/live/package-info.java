/**
 * Faults to try on the small real fleet of {@code ./firth live}.
 *
 * <p>May use of the server: {@code platform}.
 */
@NullMarked
package firth.server.live;

import org.jspecify.annotations.NullMarked;
