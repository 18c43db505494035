/**
 * Copies of Firth's own facts.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.selfcopy;

import org.jspecify.annotations.NullMarked;
