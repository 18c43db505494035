/**
 * The proof that deleting chosen copies harms nothing that is promised, and what may give way when a store is short.
 *
 * <p>May use: {@code evaluation} and what that rests on.
 */
@NullMarked
package firth.core.purge;

import org.jspecify.annotations.NullMarked;
