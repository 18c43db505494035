/**
 * Which copies a rule needs and why, which are obsolete, and which restore nothing.
 *
 * <p>The trade's terms beside ours: rungs are the tiers of a grandfather-father-son scheme; reach is a point-in-time range.
 *
 * <p>May use: {@code cover} and what that rests on.
 */
@NullMarked
package firth.core.retention;

import org.jspecify.annotations.NullMarked;
