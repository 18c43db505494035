/**
 * Database files of SQLite and their write-ahead logs, read from their published layout. The files hold no moments: a copy is as old as its
 * date says.
 *
 * <p>May use: {@code engines}, {@code core.model}.
 */
@NullMarked
package firth.engines.sqlite;

import org.jspecify.annotations.NullMarked;
