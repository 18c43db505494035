/**
 * The morning: what is wrong, how the night went, what runs and comes, what still needs a backup, and what is accepted for a
 * while.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code cover}, {@code runners}.
 */
@NullMarked
package firth.server.watch;

import org.jspecify.annotations.NullMarked;
