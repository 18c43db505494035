/**
 * What is expected of days to come: durations, sizes, room in stores, and a policy replayed over what happened.
 *
 * <p>May use: {@code restore} and what that rests on.
 */
package firth.core.forecast;
