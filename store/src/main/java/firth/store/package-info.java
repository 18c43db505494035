/**
 * The records in SQLite, in explicit SQL through JDBC: facts as they came, in order, with the record of who did what,
 * and what is worked out from them and kept.
 *
 * <p>May use: the core.
 */
@NullMarked
package firth.store;

import org.jspecify.annotations.NullMarked;
