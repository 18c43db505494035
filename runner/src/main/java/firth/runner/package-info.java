/**
 * The program on a database host: starts what Firth says is due with the engine's own programs, reads what they left, and tells how it
 * went (docs/runner.md).
 *
 * <p>May use: {@code exchange} and {@code engines}.
 */
@NullMarked
package firth.runner;

import org.jspecify.annotations.NullMarked;
