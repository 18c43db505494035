/**
 * A week of nights to come: what is to run when, and where it will not fit.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code cover}, {@code policies}.
 */
@NullMarked
package firth.server.week;

import org.jspecify.annotations.NullMarked;
