/**
 * One database: its cover, backups, shelves, holds and notes, why they are judged as they are, and stepping from one event to
 * the next.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code cover}, {@code watch}.
 */
@NullMarked
package firth.server.database;

import org.jspecify.annotations.NullMarked;
