/**
 * Which moments can be restored: what is there under a hazard, chains, log extension over lineages, and the gaps between.
 *
 * <p>May use: {@code history} and what that rests on.
 */
@NullMarked
package firth.core.cover;

import org.jspecify.annotations.NullMarked;
