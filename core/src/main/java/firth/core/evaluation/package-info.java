/**
 * The one pure function: everything that is said of a database as of a moment, from its facts, the policies and a period. It
 * gives typed values; what is wrong with them is told by {@code findings}.
 *
 * <p>May use: {@code objective}, {@code adherence}, {@code retention} and what those rest on.
 */
@NullMarked
package firth.core.evaluation;

import org.jspecify.annotations.NullMarked;
