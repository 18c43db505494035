/**
 * Ways back to a moment, how long each takes, loss rehearsals over a fleet, and which moment a drill should try.
 *
 * <p>May use: {@code evaluation} and what that rests on.
 */
@NullMarked
package firth.core.restore;

import org.jspecify.annotations.NullMarked;
