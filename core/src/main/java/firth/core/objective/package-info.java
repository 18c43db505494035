/**
 * Recovery points, their age over a period, achieved recovery point objectives (RPO), attainment and breaches.
 *
 * <p>May use: {@code cover} and what that rests on.
 */
package firth.core.objective;
