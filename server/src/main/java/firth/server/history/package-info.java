/**
 * Runs, backups, drills and restores, a page at a time, folded by cause, and one in detail.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code cover}.
 */
@NullMarked
package firth.server.history;

import org.jspecify.annotations.NullMarked;
