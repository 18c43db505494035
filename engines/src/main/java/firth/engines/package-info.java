/**
 * Reads what database engines leave in archives and stores, in Firth's own code: no program of an engine is run. What is found is said
 * with the evidence it rests on, and what could not be read with the reason.
 *
 * <p>May use: {@code core.model}.
 */
@NullMarked
package firth.engines;

import org.jspecify.annotations.NullMarked;
