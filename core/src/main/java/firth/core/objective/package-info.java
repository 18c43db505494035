/**
 * Recovery points, their age over a period, achieved recovery point objectives (RPO), attainment and breaches.
 *
 * <p>The trade's term beside ours: attainment is objective compliance.
 *
 * <p>May use: {@code cover} and what that rests on.
 */
@NullMarked
package firth.core.objective;

import org.jspecify.annotations.NullMarked;
