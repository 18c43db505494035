/**
 * Binary logs and backups of MariaDB from 10.6 on and of MySQL 8, read from their published layout.
 *
 * <p>A position is the number of a log file and a place in it, as one whole number ({@link firth.engines.mariadb.Coordinate}). The engine
 * writes moments in whole seconds.
 *
 * <p>May use: {@code engines}, {@code core.model}.
 */
@NullMarked
package firth.engines.mariadb;

import org.jspecify.annotations.NullMarked;
