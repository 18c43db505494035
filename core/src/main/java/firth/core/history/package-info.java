/**
 * How the facts of one database are held for evaluation: columns instead of objects, for there may be millions. Also how a
 * later statement is merged into a known one.
 *
 * <p>May use: {@code time}, {@code model}.
 */
@NullMarked
package firth.core.history;

import org.jspecify.annotations.NullMarked;
