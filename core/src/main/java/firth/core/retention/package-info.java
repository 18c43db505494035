/**
 * Which copies a rule needs and why, which are obsolete, and which restore nothing.
 *
 * <p>May use: {@code cover} and what that rests on.
 */
package firth.core.retention;
