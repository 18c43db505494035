/**
 * What is expected of days to come: durations, sizes, room in stores, and a policy replayed over what happened.
 *
 * <p>May use: {@code restore} and what that rests on.
 */
@NullMarked
package firth.core.forecast;

import org.jspecify.annotations.NullMarked;
