/**
 * Reports: made, printed, exported and kept.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code cover}, {@code database}, {@code documents}.
 */
@NullMarked
package firth.server.reports;

import org.jspecify.annotations.NullMarked;
