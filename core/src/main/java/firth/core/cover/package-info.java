/**
 * Which moments can be restored: what is there under a hazard, chains, log extension over lineages, and the gaps between.
 *
 * <p>May use: {@code history} and what that rests on.
 */
package firth.core.cover;
