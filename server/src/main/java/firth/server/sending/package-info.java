/**
 * Who is told of what, and getting it to them by mail or as signed events.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code documents}, {@code reports}.
 */
@NullMarked
package firth.server.sending;

import org.jspecify.annotations.NullMarked;
