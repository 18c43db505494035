/**
 * Whether backups came when they were asked for: slots, the runs attributed to them, verdicts, log cadence, onboarding, and
 * what is due now.
 *
 * <p>May use: {@code cover} and what that rests on.
 */
@NullMarked
package firth.core.adherence;

import org.jspecify.annotations.NullMarked;
